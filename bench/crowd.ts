import { mkdtempSync } from "node:fs";
import type { AddressInfo } from "node:net";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { admit } from "../standin/http/keys";
import { standinServer } from "../standin/http/server";
import { Keeper } from "../standin/keeper";
import type { Unit } from "../standin/world/types";
import { CROWD_PROVIDER, CROWD_START, crowdAccounts } from "./crowd-accounts";

/**
 * A stand-in of its own process with a crowd of like machines: `MACHINES` as its argument. Every fiftieth has hours
 * of its own. Says on stdout where it listens.
 */
const machines = Number(process.argv[2]);
const keeper = new Keeper(join(mkdtempSync(join(tmpdir(), "umbrik-crowd-")), "world.json"));
keeper.changed = () => {};
keeper.setRate(0);
keeper.stepTo(CROWD_START);
const accounts = crowdAccounts("");
for (const { name, key } of accounts) admit(key, { account: name, provider: CROWD_PROVIDER, rights: ["list", "start", "stop"] });
const like = keeper.world.units.find(({ provider, kind }) => provider === CROWD_PROVIDER && kind === "machine") as Unit;
for (let i = 0; i < machines; i++) {
  const id = `crowd-${i}`;
  keeper.world.units.push({
    ...like,
    id,
    name: id,
    account: (accounts[i % accounts.length] as { name: string }).name,
    tags: { team: "crowd", owner: `o${i % 97}@skerrywick.example`, ...(i % 50 === 0 ? { shift: "late" } : {}) },
    life: [{ at: CROWD_START - 3600, state: "running", level: 1 }],
    pending: null,
  });
}
const server = standinServer(keeper, tmpdir());
server.listen(0, "127.0.0.1", () => console.log(JSON.stringify({ port: (server.address() as AddressInfo).port })));
