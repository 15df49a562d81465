import Link from "next/link";
import { MoneySwitch } from "../money/view-switch";
import { GoBox } from "./go-box";
import { KeysHelp } from "./keys-help";
import { Places } from "./places";
import { ThemeSwitch } from "./theme-switch";

export type BarProps = { personName: string };

/** The one bar: the mark, the places, search and go, the person. */
export function Bar({ personName }: BarProps) {
  return (
    <header className="flex min-h-11 flex-wrap items-center gap-x-3 gap-y-1 border-lines border-b px-4 max-lg:py-1 lg:h-11 lg:flex-nowrap print:hidden">
      <Link href="/" className="flex items-center gap-2 no-underline" aria-label="Umbrik, to Burn">
        <Mark />
        <span className="font-bold text-[17px] tracking-tight">Umbrik</span>
      </Link>
      <Places />
      <div className="flex-1 max-lg:hidden" />
      <MoneySwitch />
      <GoBox />
      <KeysHelp />
      <ThemeSwitch />
      <span className="text-soft">{personName}</span>
    </header>
  );
}

/** A course of bricks, half of them in the shade. */
function Mark() {
  return (
    <svg aria-hidden="true" width="22" height="18" viewBox="0 0 22 18">
      <rect x="0" y="0" width="13" height="5" rx="1" fill="var(--lit)" />
      <rect x="14" y="0" width="8" height="5" rx="1" fill="var(--shade)" />
      <rect x="0" y="6.5" width="7" height="5" rx="1" fill="var(--lit)" />
      <rect x="8" y="6.5" width="14" height="5" rx="1" fill="var(--doze)" />
      <rect x="0" y="13" width="10" height="5" rx="1" fill="var(--lit-deep)" />
      <rect x="11" y="13" width="11" height="5" rx="1" fill="#3a3560" />
    </svg>
  );
}
