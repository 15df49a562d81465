import { accessSync, constants, existsSync, mkdirSync, rmSync, statfsSync, statSync, writeFileSync } from "node:fs";
import { dirname, join, resolve } from "node:path";
import { giveUp } from "./say.mjs";

/** Makes a folder that data can be kept in, or ends the program with what is wrong with it. */
export function ensureFolder(path) {
  const folder = resolve(path);
  let there = folder;
  while (!existsSync(there)) there = dirname(there);
  if (!statSync(there).isDirectory()) giveUp(`${folder}: a file stands in its way`);
  // A file system of the kernel's own has no room at all, and a folder that is made in it never comes.
  if (statfsSync(there).blocks === 0) giveUp(`${folder}: nothing can be kept there; choose another UMBRIK_DATA`);
  try {
    accessSync(there, constants.W_OK | constants.X_OK);
    mkdirSync(folder, { recursive: true });
    const probe = join(folder, ".probe");
    writeFileSync(probe, "x".repeat(4096));
    rmSync(probe);
  } catch (error) {
    giveUp(`${folder}: ${reasonOf(error)}`);
  }
}

const REASONS = {
  EACCES: "this user may not write there",
  EPERM: "this user may not write there",
  EROFS: "it can only be read",
  ENOSPC: "the disk is full",
  EDQUOT: "the disk is full",
  ENOTDIR: "a file stands in its way",
  EEXIST: "a file stands in its way",
};

/** An error of the file system in words. */
export function reasonOf(error) {
  return REASONS[error?.code] ?? error?.message ?? String(error);
}
