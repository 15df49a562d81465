"use client";
import Link from "next/link";
import { usePathname } from "next/navigation";

/** `also`: pages that belong to a place and have an address of their own. */
const PLACES: readonly { href: string; name: string; also?: string }[] = [
  { href: "/", name: "Burn", also: "/machines" },
  { href: "/fleets", name: "Fleets", also: "/schedules" },
  { href: "/rounds", name: "Rounds" },
  { href: "/setup", name: "Setup", also: "/calendars" },
];

/** The places of the application, the present one marked. */
export function Places() {
  const path = usePathname();
  return (
    <nav aria-label="Places" className="flex h-full">
      {PLACES.map(({ href, name, also }) => {
        const isHere = (href === "/" ? path === "/" : path.startsWith(href)) || (also !== undefined && path.startsWith(also));
        return (
          <Link
            key={href}
            href={href}
            aria-current={isHere ? "page" : undefined}
            className={`flex h-full items-center border-b-[3px] px-3.5 no-underline ${isHere ? "border-lit-deep font-bold" : "border-transparent hover:border-lines"}`}
          >
            {name}
          </Link>
        );
      })}
    </nav>
  );
}
