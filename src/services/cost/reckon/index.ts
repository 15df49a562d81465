export { reckon, reckonLives } from "./by-step";
export { commitmentKey, type Reckoning } from "./input";
export { dayTotals, stepSumsOfLives, totalsOfLives } from "./sums";
