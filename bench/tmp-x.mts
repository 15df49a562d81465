import { benchPush } from "./push";
await benchPush(1);
process.exit(0);
