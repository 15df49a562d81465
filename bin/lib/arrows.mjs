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
  return [...wrong, ...circlesOf(imports)];
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
