import type { ProviderData, Size } from "../../demo/providers";
import { chance } from "./chance";
import { providerOf } from "./provider";
import { DAY, type Unit } from "./types";

export type PriceLine = {
  region: string;
  item: string;
  size?: string;
  os?: string;
  purchase?: string;
  class?: string;
  zone?: string;
  rate: string;
  coresMin?: number;
};

/** Everything a provider asks, on one UTC day. */
export function priceList(seed: number, provider: ProviderData, day: number): PriceLine[] {
  return provider.regions.flatMap(({ name: region, zones }): PriceLine[] => [
    ...provider.sizes
      .filter(({ rate }) => rate !== "0")
      .flatMap((size) => [
        { region, item: "compute", size: size.name, purchase: "firm", rate: size.rate },
        ...(isEligible(provider, size)
          ? (["linux", "windows"] as const).flatMap((os) =>
              // A price that is fixed is so in all of a region.
              (provider.spotShare ? [""] : zones).map((zone) => ({
                region,
                item: "compute",
                size: size.name,
                os,
                purchase: "spot",
                zone,
                rate: spotPrice({ seed, provider, size, region, zone, os, day }),
              })),
            )
          : []),
        { region, item: "licence", size: size.name, os: "windows", rate: provider.windowsLicence },
      ]),
    ...provider.sizes
      .filter(({ rate }) => rate === "0")
      .flatMap((size) => [
        { region, item: "compute", size: size.name, rate: provider.serviceCore },
        { region, item: "licence", size: size.name, ...provider.serviceLicence },
      ]),
    { region, item: "disk", class: "plain", rate: provider.disk.plain },
    { region, item: "disk", class: "fast", rate: provider.disk.fast },
    { region, item: "image", rate: provider.image },
    { region, item: "address running", rate: provider.address.running },
    { region, item: "address stopped", rate: provider.address.stopped },
    { region, item: "address unattached", rate: provider.address.unattached },
  ]);
}

export function isEligible(provider: ProviderData, size: Size): boolean {
  return !size.isBurst && !(provider.ineligible === "burst and graphics" && size.isGraphics);
}

type SpotQuery = {
  seed: number;
  provider: ProviderData;
  size: Size;
  region: string;
  zone: string;
  os: "linux" | "windows";
  day: number;
};

/** How much of where a price wanders all zones of a region have in common. */
const IN_COMMON = 0.7;

/** Fixed shares, or a price that wanders from day to day between a quarter and a half of the full one, in each zone for itself. */
function spotPrice({ seed, provider, size, region, zone, os, day }: SpotQuery): string {
  const wanders = (place: string) => smooth(seed, `${place} ${size.name}`, day / DAY);
  const share = provider.spotShare
    ? provider.spotShare[os]
    : 0.25 + 0.25 * (IN_COMMON * wanders(region) + (1 - IN_COMMON) * wanders(zone));
  return (Number(size.rate) * share).toFixed(6);
}

export function spotRate(seed: number, unit: Unit, day: number): string {
  const provider = providerOf(unit.provider);
  const size = provider.sizes.find(({ name }) => name === unit.size);
  if (!size) throw new Error(`no size ${unit.size}`);
  return spotPrice({ seed, provider, size, region: unit.region, zone: unit.zone, os: unit.os, day });
}

function smooth(seed: number, name: string, day: number): number {
  const week = Math.floor(day / 5);
  const part = day / 5 - week;
  return chance(seed, name, week) * (1 - part) + chance(seed, name, week + 1) * part;
}
