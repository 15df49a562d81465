"use client";

/** From the beginning of the page to what one came for. */
const SKIPS = [
  ["#wall", "To the week wall"],
  ["#ledger", "To the ledger"],
] as const;

/** Links that the keyboard meets first. */
export function SkipLinks() {
  return (
    <nav aria-label="In this fleet" className="contents">
      {SKIPS.map(([href, words]) => (
        <a
          key={href}
          href={href}
          className="sr-only focus:not-sr-only focus:absolute focus:z-30 focus:bg-raised focus:p-2"
          onClick={(event) => {
            const to = document.querySelector<HTMLElement>(`${href} [tabindex="0"]`) ?? document.querySelector<HTMLElement>(href);
            if (!to) return;
            event.preventDefault();
            to.focus();
            to.scrollIntoView({ block: "nearest" });
          }}
        >
          {words}
        </a>
      ))}
    </nav>
  );
}
