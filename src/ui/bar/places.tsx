"use client";
import Link from "next/link";
import { usePathname } from "next/navigation";

const PLACES = [
  { href: "/", name: "Burn" },
  { href: "/fleets", name: "Fleets" },
  { href: "/rounds", name: "Rounds" },
  { href: "/setup", name: "Setup" },
];

/** The places of the application, the present one marked. */
export function Places() {
  const path = usePathname();
  return (
    <nav aria-label="Places" className="flex h-full">
      {PLACES.map(({ href, name }) => {
        const isHere = href === "/" ? path === "/" : path.startsWith(href);
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
