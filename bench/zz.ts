import { benchHostileInput } from "./hostile-input";

await benchHostileInput();
