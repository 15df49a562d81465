declare module "*/bin/lib/processes.mjs" {
  export type Started = {
    child: { pid?: number; kill: (signal: "SIGKILL" | "SIGSTOP" | "SIGCONT") => boolean };
    firstLine: Promise<string>;
    ended: Promise<number | null>;
    stop: () => Promise<void>;
  };
  export function startNode(args: readonly string[], env?: Record<string, string>): Started;
  export function runNode(args: readonly string[], env?: Record<string, string>): Promise<void>;
  export function typescript(file: string, args?: readonly string[]): string[];
}
declare module "*/bin/lib/demo.mjs" {
  export type Demo = { url: string; standinUrl: string; env: Record<string, string>; stop: () => Promise<void> };
  export function startDemo(options: {
    databaseUrl: string;
    state: string;
    isFresh?: boolean;
    hasWorker?: boolean;
    port?: number;
    rate?: number;
  }): Promise<Demo>;
}
declare module "*/bin/lib/debian.mjs" {
  export const PROMETHEUS: string;
  export const NODE_EXPORTER: string;
  export function postgresFolder(): string | null;
  export function browserPrograms(): { chromium: string; chromedriver: string } | null;
}
declare module "*/arrows.mjs" {
  export function judge(file: string, target: string, isTypeOnly: boolean): string | null;
  export function folderCirclesOf(imports: ReadonlyMap<string, readonly { target: string; isTypeOnly: boolean }[]>): string[];
  export function wrongRoutes(file: string, text: string): string[];
  export function circlesOf(imports: ReadonlyMap<string, readonly { target: string; isTypeOnly: boolean }[]>): string[];
}
declare module "*/bin/lib/postgres.mjs" {
  export type Server = { url: string; stop: () => unknown; crash: () => unknown; again: () => unknown };
  export function startPostgres(folder: string): Promise<Server>;
}
declare module "*/bin/lib/cli.mjs" {
  export function madeCli(): Promise<string>;
}
declare module "*/bin/lib/ports.mjs" {
  export function freePort(wanted?: number, host?: string): Promise<number>;
}
