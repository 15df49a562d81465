import Link from "next/link";
import type { ReactNode } from "react";

/** A link that looks like the one thing to press. */
export function ButtonLink({ href, children }: { href: string; children: ReactNode }) {
  return (
    <Link
      href={href}
      className="inline-flex h-[30px] items-center rounded-brick border border-attention bg-attention px-3 font-semibold text-on-strong no-underline hover:opacity-90"
    >
      {children}
    </Link>
  );
}
