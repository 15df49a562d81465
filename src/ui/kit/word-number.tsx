import { WORD } from "./word-choice";

export type WordNumberProps = {
  label: string;
  value: number;
  max: number;
  onNumber: (value: number) => void;
  title?: string;
};

/** A number in a sentence that can be typed over. */
export function WordNumber({ label, value, max, onNumber, title }: WordNumberProps) {
  return (
    <input
      type="number"
      min={0}
      max={max}
      aria-label={label}
      title={title ?? label}
      className={`${WORD} min-w-[30px] cursor-text`}
      value={String(value)}
      onChange={({ target }) => onNumber(Math.max(0, Math.min(max, Math.round(Number(target.value) || 0))))}
    />
  );
}
