import type { Metadata } from "next";
import { cookies } from "next/headers";
import type { ReactNode } from "react";
import { attention, readClock } from "@/services/rounds";
import { AsOfFrame } from "@/ui/as-of/frame";
import { Attention } from "@/ui/attention/attention";
import { Bar } from "@/ui/bar/bar";
import { TimeStrip } from "@/ui/time-strip/time-strip";
import "./globals.css";
import { coalesce } from "./coalesce";
import { actor, services } from "./services";
import { shownZones } from "./zone";

export const metadata: Metadata = { title: "Umbrik", description: "What runs, what it costs, and what to do about it." };
export const dynamic = "force-dynamic";

export default async function Layout({ children }: { children: ReactNode }) {
  const [theme, [reading, needs], { zones, shown }] = await Promise.all([
    cookies().then((jar) => (jar.get("umbrik-theme")?.value === "dark" ? "dark" : "light")),
    coalesce(`frame ${actor().name}`, () => Promise.all([readClock(services(), actor()), attention(services(), actor())])),
    shownZones(),
  ]);
  return (
    <html lang="en" data-theme={theme}>
      <body className="flex min-h-screen flex-col lg:h-screen lg:overflow-hidden print:block print:h-auto print:overflow-visible">
        <a href="#main" className="sr-only focus:not-sr-only focus:absolute focus:z-30 focus:bg-raised focus:p-2">
          To the content
        </a>
        <Bar personName={actor().name} />
        <TimeStrip reading={reading} zones={zones} shown={shown} />
        <Attention lines={needs} zone={shown[0] ?? "UTC"} now={reading.now} />
        <AsOfFrame zone={shown[0] ?? "UTC"}>{children}</AsOfFrame>
      </body>
    </html>
  );
}
