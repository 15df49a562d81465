import { benchBurn } from "./burn";
import { withDemo } from "./demo";
import { benchDecide, benchProjection } from "./fleet";
import { benchFocus } from "./focus";
import { benchHours, benchLines, benchSchedules } from "./hours";
import { missedCount, yardstickMs } from "./measure";
import { benchRounds } from "./rounds";
import { benchScale } from "./scale";
import { benchSpend } from "./spend";
import { benchWall } from "./wall";

const yardstick = yardstickMs();
benchHours();
benchLines();
benchSchedules(yardstick);
benchProjection(yardstick);
benchDecide(yardstick);
await benchRounds(yardstick);
await benchScale();
await withDemo(async (demo) => {
  await benchWall(demo, yardstick);
  await benchBurn(demo, yardstick);
  await benchSpend(demo, yardstick);
  await benchFocus(demo);
});
process.exitCode = missedCount() === 0 ? 0 : 1;
