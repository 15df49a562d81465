import { benchBurn } from "./burn";
import { benchDecide, benchProjection } from "./fleet";
import { benchHours } from "./hours";
import { missedCount, yardstickMs } from "./measure";

const yardstick = yardstickMs();
benchHours();
benchProjection(yardstick);
benchDecide(yardstick);
await benchBurn(yardstick);
process.exitCode = missedCount() === 0 ? 0 : 1;
