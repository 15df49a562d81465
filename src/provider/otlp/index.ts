export { refusedWith, taken } from "./answer";
export { inflated, OtlpError, type PushedPoints, readPush } from "./read";
