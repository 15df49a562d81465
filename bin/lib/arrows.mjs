import { readdirSync, readFileSync } from "node:fs";
import { dirname, join, normalize, relative } from "node:path";
import { ROOT } from "./paths.mjs";

/** Which folder of src may import from which (docs/architecture.md). "types" allows `import type` alone. */
const ARROWS = {
  core: {},
  log: {},
  store: { core: "all", log: "all" },
  provider: { core: "all" },
  services: { log: "all", core: "all", store: "all", provider: "all" },
  worker: { log: "all", services: "all", core: "all" },
  cli: { services: "all", core: "all" },
  ui: { core: "all", browser: "all", services: "types" },
  browser: { core: "all" },
  app: { log: "all", services: "all", core: "all", ui: "all" },
  "proxy.ts": { app: "all" },
};

/** Every import that points the wrong way, and every circle between files; empty when the house stands. */
export function wrongArrows() {
  const files = sources("src").concat(sources("standin"), sources("demo"));
  const imports = new Map(files.map((file) => [file, importsOf(file)]));
  const wrong = [];
  for (const [file, list] of imports) {
    for (const { target, isTypeOnly } of list) {
      const problem = judge(file, target, isTypeOnly);
      if (problem) wrong.push(`${file}: imports ${target}: ${problem}`);
    }
  }
  return [
    ...wrong,
    ...circlesOf(imports),
    ...folderCirclesOf(imports),
    ...files.flatMap((file) => wrongRoutes(file, readFileSync(join(ROOT, file), "utf8"))),
  ];
}

/** What a file exports as a route handler or a server action that was not made by `route()`: nothing else asks for a right. */
export function wrongRoutes(file, text) {
  const wrong = [];
  if (/^\s*["']use server["']/m.test(text)) wrong.push(`${file}: a server action: write a route, which asks for a right`);
  if (!/^src\/app\/.*\/route\.ts$/.test(file)) return wrong;
  const verbs = "GET|HEAD|POST|PUT|PATCH|DELETE|OPTIONS";
  for (const [, verb] of text.matchAll(new RegExp(`export (?:async )?function (${verbs})\\b`, "g")))
    wrong.push(`${file}: ${verb} is not made by route()`);
  for (const [, verb, made] of text.matchAll(new RegExp(`export const (${verbs}) = (\\w*)`, "g")))
    if (made !== "route") wrong.push(`${file}: ${verb} is not made by route()`);
  return wrong;
}

/** Folders of the core and of the interface that know each other in a circle, by what is there at run time. A folder's tests do not count. */
export function folderCirclesOf(imports) {
  const roomOf = (file) => /^(src\/(?:core|ui|services)\/[^/]+)\//.exec(file)?.[1] ?? null;
  const arrows = new Map();
  for (const [file, list] of imports) {
    const from = roomOf(file);
    for (const { target, isTypeOnly } of list) {
      // By its door a folder is named without a file: src/core/rounds.
      const to = roomOf(`${target}/`);
      if (from === null || to === null || from === to || isTypeOnly) continue;
      arrows.set(from, (arrows.get(from) ?? new Set()).add(to));
    }
  }
  return circlesIn(arrows);
}

/** Each circle in a graph once, as a sentence. */
function circlesIn(arrows) {
  const found = [];
  const done = new Set();
  const visit = (room, trail) => {
    if (trail.includes(room))
      return found.push(`a circle of folders: ${[...trail.slice(trail.indexOf(room)), room].join(" -> ")}`);
    if (done.has(room)) return;
    for (const next of arrows.get(room) ?? []) visit(next, [...trail, room]);
    done.add(room);
  };
  for (const room of arrows.keys()) visit(room, []);
  return found;
}

/** What is wrong with one import, or null. */
export function judge(file, target, isTypeOnly) {
  const [from, room] = file.split("/");
  const [to, otherRoom] = target.split("/");
  // What loads the demo is a program on top of the product; its data is nobody's but the stand-in's and its own.
  if (file === "demo/prepare.ts") return null;
  if (from === "standin" || from === "demo") return to === "src" ? `${from} takes nothing from src` : null;
  if (to === "standin") return "src takes nothing from the stand-in";
  if (to === "demo") return "the product knows nothing of the demo";
  if (to === "src" && room === "services" && otherRoom === "services") return roundTheDoor(file, target);
  if (to === "src" && otherRoom === "services" && target.split("/").length !== 3) return "only by the door of a subject";
  if (to !== "src" || room === otherRoom) return null;
  const allowed = ARROWS[room]?.[otherRoom];
  if (allowed === "all" || (allowed === "types" && isTypeOnly)) return null;
  return allowed === "types" ? "types only" : `${room} does not know ${otherRoom}`;
}

/** Subjects of services know each other by their doors alone, and nothing lies loose beside them. */
function roundTheDoor(file, target) {
  const [, , subject, ...inside] = file.split("/");
  const [, , other, ...rest] = target.split("/");
  if (inside.length === 0 && subject !== "index.ts") return "nothing lies loose in services: it belongs to a subject";
  return subject !== other && rest.length > 0 && rest.join("/") !== "index.ts" ? `only by the door of ${other}` : null;
}

function sources(folder) {
  return readdirSync(join(ROOT, folder), { recursive: true, withFileTypes: true })
    .filter((entry) => entry.isFile() && /\.tsx?$/.test(entry.name) && !entry.name.includes(".test."))
    .map((entry) => relative(ROOT, join(entry.parentPath, entry.name)));
}

function importsOf(file) {
  const text = readFileSync(join(ROOT, file), "utf8");
  const found = [];
  for (const match of text.matchAll(/^(?:import|export)\s+(type\s)?([^"';]*?)\s*from\s+"([^"]+)"|^import\s+"([^"]+)"/gm)) {
    const path = match[3] ?? match[4];
    const target = path.startsWith("@/")
      ? `src/${path.slice(2)}`
      : path.startsWith(".")
        ? normalize(join(dirname(file), path))
        : null;
    if (!target) continue;
    const names = (match[2] ?? "")
      .replace(/[{}]/g, "")
      .split(",")
      .map((name) => name.trim())
      .filter(Boolean);
    found.push({
      target,
      isTypeOnly: Boolean(match[1]) || (names.length > 0 && names.every((name) => name.startsWith("type "))),
    });
  }
  return found;
}

/** Circles of imports that are there at run time; types alone bind nothing. */
export function circlesOf(imports) {
  const resolve = (target) => [target, `${target}.ts`, `${target}.tsx`, `${target}/index.ts`].find((path) => imports.has(path));
  const done = new Set();
  const found = [];
  const visit = (file, trail) => {
    if (trail.includes(file)) {
      found.push(`a circle: ${[...trail.slice(trail.indexOf(file)), file].join(" -> ")}`);
      return;
    }
    if (done.has(file)) return;
    for (const { target, isTypeOnly } of imports.get(file) ?? []) {
      const next = resolve(target);
      if (next && !isTypeOnly) visit(next, [...trail, file]);
    }
    done.add(file);
  };
  for (const file of imports.keys()) visit(file, []);
  return found;
}
