export { computeCosts, computeLives } from "./by-step";
export { type ComputedCosts, commitmentKey, isCommitmentKey } from "./input";
export { dayTotals, stepSumsOfLives, totalsOfLives } from "./sums";
