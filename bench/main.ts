import { benchBurn } from "./burn";
import { withDemo } from "./demo";
import { benchDecide, benchProjection } from "./fleet";
import { benchHours, benchLines, benchSchedules } from "./hours";
import { missedCount, yardstickMs } from "./measure";
import { benchWall } from "./wall";

const yardstick = yardstickMs();
benchHours();
benchLines();
benchSchedules(yardstick);
benchProjection(yardstick);
benchDecide(yardstick);
await withDemo(async (demo) => {
  await benchWall(demo, yardstick);
  await benchBurn(demo, yardstick);
});
process.exitCode = missedCount() === 0 ? 0 : 1;
