"use client";
import { usePathname } from "next/navigation";
import { AtLink } from "../as-of/at-link";

const TABS = [
  { href: "/reports", name: "Daily report" },
  { href: "/reports/mails", name: "Mails" },
  { href: "/reports/realised", name: "Realised savings" },
  { href: "/usage", name: "Usage and FOCUS" },
];

/** The parts of Reports. */
export function ReportTabs() {
  const path = usePathname();
  return (
    <nav aria-label="Reports" className="mb-3 flex gap-5 border-lines border-b print:hidden">
      {TABS.map(({ href, name }) => {
        const isHere = href === "/reports" ? path === href : path.startsWith(href);
        return (
          <AtLink
            key={href}
            href={href}
            aria-current={isHere ? "page" : undefined}
            className={`border-b-2 pb-1 no-underline ${isHere ? "border-lit-deep font-bold" : "border-transparent hover:border-lines"}`}
          >
            {name}
          </AtLink>
        );
      })}
    </nav>
  );
}
