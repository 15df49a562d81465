export { reckon } from "./by-step";
export { commitmentKey, type Reckoning } from "./input";
export { stepSumsOfLives, totalsOfLives } from "./sums";
