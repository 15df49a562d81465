import { spawn } from "node:child_process";
import { once } from "node:events";
import { createReadStream, createWriteStream, mkdtempSync, readFileSync, rmSync, statSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { pipeline } from "node:stream/promises";
import { from as copyFrom } from "pg-copy-streams";
import type { BenchDemo } from "./demo";
import { report } from "./measure";

const LINES = 1_000_000;

/** A million FOCUS lines through the command line, beside PostgreSQL's own COPY of the same file into a table of text. */
export async function benchFocus({ client, env }: BenchDemo): Promise<void> {
  const folder = mkdtempSync(join(tmpdir(), "umbrik-focus-"));
  const file = join(folder, "bill.csv");
  try {
    await writeBill(file);
    const copyS = await copyRaw(client, file);
    const { seconds, peakMb, result } = await imported(file, env);
    if (result.linesTaken !== LINES) throw new Error(`${result.linesTaken} lines were taken`);
    const megabytes = statSync(file).size / 1e6;
    report({
      name: `import of a million FOCUS lines (${megabytes.toFixed(0)} MB), start of the command included`,
      figure: `${seconds.toFixed(1)} s, ${(seconds / copyS).toFixed(1)} yardsticks`,
      target: "at most 40 s and 8 yardsticks",
      isMet: seconds <= 40 && seconds <= 8 * copyS,
      yardstick: `COPY of the same file, ${copyS.toFixed(1)} s`,
    });
    report({
      name: "the most memory the import took",
      figure: `${peakMb.toFixed(0)} MB resident`,
      target: "at most 300 MB",
      isMet: peakMb <= 300,
      yardstick: `the file, ${megabytes.toFixed(0)} MB`,
    });
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

async function writeBill(file: string): Promise<void> {
  const out = createWriteStream(file);
  out.write(
    "BillingAccountId,BillingCurrency,BilledCost,EffectiveCost,ListCost,ChargeCategory,ChargeDescription,ChargePeriodStart,ChargePeriodEnd,ConsumedQuantity,ConsumedUnit,ProviderName,RegionId,ResourceId,ResourceName,ResourceType,ServiceCategory,SubAccountId,Tags\n",
  );
  let text = "";
  for (let i = 0; i < LINES; i++) {
    const day = `2027-02-${String(1 + (i % 28)).padStart(2, "0")}`;
    const hour = String(i % 24).padStart(2, "0");
    text += `skerrywick,EUR,0.${100_000 + (i % 899_999)},0.1,0.2,Usage,compute,${day}T${hour}:00:00Z,${day}T${hour}:59:59Z,0.9997,hours,norrhav,fjord-1,norrhav-m-${i % 9000},m-${i % 9000},machine,Compute,skerry-survey,"{""team"":""sonar-lab"",""owner"":""o${i % 97}""}"\n`;
    if (text.length < 1 << 20 && i < LINES - 1) continue;
    if (!out.write(text)) await once(out, "drain");
    text = "";
  }
  await new Promise<void>((resolve) => out.end(() => resolve()));
}

async function copyRaw(client: BenchDemo["client"], file: string): Promise<number> {
  const names = readFileSync(file).subarray(0, 400).toString("utf8").split("\n")[0]?.split(",") ?? [];
  await client.query(`create table raw_bill (${names.map((name) => `"${name}" text`).join(", ")})`);
  const begin = performance.now();
  await pipeline(
    createReadStream(file, { highWaterMark: 1 << 20 }),
    client.query(copyFrom("copy raw_bill from stdin with (format csv, header)")),
  );
  const seconds = (performance.now() - begin) / 1000;
  await client.query("drop table raw_bill");
  return seconds;
}

type Imported = Readonly<{ seconds: number; peakMb: number; result: { linesTaken: number } }>;

async function imported(file: string, env: BenchDemo["env"]): Promise<Imported> {
  const begin = performance.now();
  const args = ["--import", import.meta.resolve("tsx"), "src/cli/main.ts", "focus", "import", file];
  const child = spawn(process.execPath, args, { env: { ...process.env, ...env }, stdio: ["ignore", "pipe", "inherit"] });
  let peakMb = 0;
  const timer = setInterval(() => {
    peakMb = Math.max(peakMb, peakOf(child.pid ?? 0));
  }, 100);
  let text = "";
  for await (const part of child.stdout) text += part;
  clearInterval(timer);
  return { seconds: (performance.now() - begin) / 1000, peakMb, result: JSON.parse(text) };
}

/** The most memory a process had resident, in megabytes, as Linux keeps it. */
function peakOf(pid: number): number {
  try {
    return Number(/VmHWM:\s+(\d+) kB/.exec(readFileSync(`/proc/${pid}/status`, "utf8"))?.[1] ?? 0) / 1000;
  } catch {
    return 0;
  }
}
