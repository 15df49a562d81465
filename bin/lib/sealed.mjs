// A file that only its owner reads, and only with a key that is not in it (AES-256-GCM, NIST SP 800-38D).
import { createCipheriv, createDecipheriv, randomBytes } from "node:crypto";
import {
  chmodSync,
  closeSync,
  createReadStream,
  createWriteStream,
  existsSync,
  mkdirSync,
  openSync,
  readFileSync,
  readSync,
  statSync,
  writeFileSync,
} from "node:fs";
import { dirname } from "node:path";
import { pipeline } from "node:stream/promises";

const MAGIC = Buffer.from("UMBRIK-1");
const IV_BYTES = 12;
const TAG_BYTES = 16;
const KEY_BYTES = 32;
const OWNER_ONLY = 0o600;

/** The key of a text in base64, or of a file, which is made where there is none and `mayMake`. Null where there is no key. */
export function keyOf({ text, file, mayMake }) {
  if (text) {
    const key = Buffer.from(text, "base64");
    if (key.length !== KEY_BYTES) throw new Error(`UMBRIK_BACKUP_KEY: expected ${KEY_BYTES} bytes in base64`);
    return key;
  }
  if (!existsSync(file)) {
    if (!mayMake) return null;
    mkdirSync(dirname(file), { recursive: true });
    writeFileSync(file, randomBytes(KEY_BYTES).toString("base64"), { mode: OWNER_ONLY, flag: "wx" });
  }
  return Buffer.from(readFileSync(file, "utf8").trim(), "base64");
}

/** Writes what a stream gives to a file, sealed. */
export async function seal(from, file, key) {
  const iv = randomBytes(IV_BYTES);
  const cipher = createCipheriv("aes-256-gcm", key, iv);
  const to = createWriteStream(file, { mode: OWNER_ONLY });
  to.write(Buffer.concat([MAGIC, iv]));
  await pipeline(from, cipher, to, { end: false });
  await new Promise((resolve, reject) => to.on("error", reject).end(cipher.getAuthTag(), resolve));
  // One that was there before keeps the rights it had.
  chmodSync(file, OWNER_ONLY);
}

/** Opens a sealed file into another. Throws where the key is another, or a byte of it was changed. */
export async function unseal(file, into, key) {
  const size = statSync(file).size;
  const head = piece(file, 0, MAGIC.length + IV_BYTES);
  if (size < MAGIC.length + IV_BYTES + TAG_BYTES || !head.subarray(0, MAGIC.length).equals(MAGIC))
    throw new Error("it is no back-up of Umbrik's");
  const decipher = createDecipheriv("aes-256-gcm", key, head.subarray(MAGIC.length));
  decipher.setAuthTag(piece(file, size - TAG_BYTES, TAG_BYTES));
  const sealed = createReadStream(file, { start: head.length, end: size - TAG_BYTES - 1 });
  try {
    await pipeline(sealed, decipher, createWriteStream(into, { mode: OWNER_ONLY }));
  } catch (error) {
    if (error.code) throw error;
    throw new Error("the key is another, or the file was changed");
  }
}

function piece(file, from, length) {
  const bytes = Buffer.alloc(length);
  const handle = openSync(file, "r");
  try {
    readSync(handle, bytes, 0, length, from);
  } finally {
    closeSync(handle);
  }
  return bytes;
}
