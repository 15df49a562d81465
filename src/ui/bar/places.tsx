"use client";
import { usePathname } from "next/navigation";
import { AtLink } from "../as-of/at-link";

/** `also`: pages that belong to a place and have an address of their own. */
const PLACES: readonly { href: string; name: string; also?: readonly string[] }[] = [
  { href: "/", name: "Burn", also: ["/machines", "/resources", "/strays"] },
  { href: "/fleets", name: "Fleets", also: ["/schedules"] },
  { href: "/rounds", name: "Rounds" },
  { href: "/reports", name: "Reports", also: ["/usage"] },
  { href: "/setup", name: "Setup", also: ["/calendars", "/prices"] },
];

/** The places of the application, the present one marked. */
export function Places() {
  const path = usePathname();
  return (
    <nav aria-label="Places" className="flex overflow-x-auto max-lg:h-10 lg:h-full">
      {PLACES.map(({ href, name, also }) => {
        const isHere =
          (href === "/" ? path === "/" : path.startsWith(href)) || (also?.some((prefix) => path.startsWith(prefix)) ?? false);
        return (
          <AtLink
            key={href}
            href={href}
            aria-current={isHere ? "page" : undefined}
            className={`flex h-full items-center border-b-[3px] px-3.5 no-underline max-sm:px-2.5 ${isHere ? "border-lit-deep font-bold" : "border-transparent hover:border-lines"}`}
          >
            {name}
          </AtLink>
        );
      })}
    </nav>
  );
}
