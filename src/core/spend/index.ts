export { type Running, runningSpend } from "./running";
