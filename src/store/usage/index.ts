export * from "./imports";
export * from "./lines";
