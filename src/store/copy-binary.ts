/**
 * Rows as the database's binary format for COPY takes them (PostgreSQL, COPY, File Formats): the server reads no text, which for
 * instants and decimals is most of the work of taking a row in. What recurs is made once and copied.
 */
const SIGNATURE = Buffer.concat([Buffer.from("PGCOPY\n\xff\r\n\0", "latin1"), Buffer.alloc(8)]);
const END = Buffer.from([0xff, 0xff]);
/** 1 January 2000, from which the database counts, in seconds. */
const EPOCH_S = 946_684_800;

/** A text as a field. */
export function textField(text: string): Buffer {
  // The database has no character of number 0.
  const bytes = Buffer.from(text.includes("\0") ? text.replaceAll("\0", "") : text, "utf8");
  return Buffer.concat([lengthOf(bytes.length), bytes]);
}

/** An instant as a field of type `timestamptz`, exact to the millionth of a second. */
export function instantField(at: number): Buffer {
  const field = Buffer.alloc(12);
  field.writeInt32BE(8);
  field.writeBigInt64BE(BigInt(Math.round((at - EPOCH_S) * 1e6)), 4);
  return field;
}

/** A whole number as a field of type `integer`. */
export function integerField(value: number): Buffer {
  const field = Buffer.alloc(8);
  field.writeInt32BE(4);
  field.writeInt32BE(value, 4);
  return field;
}

function lengthOf(length: number): Buffer {
  const field = Buffer.alloc(4);
  field.writeInt32BE(length);
  return field;
}

const CHUNK_BYTES = 256 * 1024;

/** Gathers rows into chunks; `fields` are whole fields one after the other, and a double is the last. */
export class BinaryRows {
  private chunk = Buffer.allocUnsafe(CHUNK_BYTES);
  private size = SIGNATURE.copy(this.chunk);

  constructor(private readonly fieldCount: number) {}

  /** Adds a row. Returns a chunk where one is full, which must be taken before the next row. */
  add(first: Buffer, second: Buffer, last: number): Buffer | null {
    const full =
      this.size + first.length + second.length + 14 > this.chunk.length ? this.take(first.length + second.length) : null;
    const { chunk } = this;
    let at = chunk.writeInt16BE(this.fieldCount, this.size);
    at += first.copy(chunk, at);
    at += second.copy(chunk, at);
    at = chunk.writeInt32BE(8, at);
    this.size = chunk.writeDoubleBE(last, at);
    return full;
  }

  /** What is left, with the end of it all. */
  end(): Buffer {
    return Buffer.concat([this.chunk.subarray(0, this.size), END]);
  }

  private take(next: number): Buffer {
    const full = this.chunk.subarray(0, this.size);
    this.chunk = Buffer.allocUnsafe(Math.max(CHUNK_BYTES, next + 14));
    this.size = 0;
    return full;
  }
}
