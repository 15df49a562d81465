import { cookies } from "next/headers";
import { cache } from "react";
import { regionZones } from "@/services/inventory";
import { SHOWN_ZONES } from "@/ui/time-strip/shown-zones";
import { coalesce } from "./coalesce";
import { actor, services } from "./services";

/** The one or two zones that the strip is shown in, as its reader chose; times on pages are told in the first. Asked once a request. */
export const shownZones = cache(async (): Promise<{ zones: string[]; shown: string[] }> => {
  const [zones, jar] = await Promise.all([coalesce(`zones ${actor().name}`, () => regionZones(services(), actor())), cookies()]);
  const chosen = (jar.get(SHOWN_ZONES)?.value ?? "").split(",").filter((zone) => zones.includes(zone));
  return { zones, shown: chosen.length > 0 ? chosen.slice(0, 2) : [zones[0] ?? "UTC"] };
});
