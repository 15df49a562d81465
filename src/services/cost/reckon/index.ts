export { reckon, reckonLives } from "./by-step";
export { commitmentKey, isCommitmentKey, type Reckoning } from "./input";
export { dayTotals, stepSumsOfLives, totalsOfLives } from "./sums";
