/** The two invented clouds: what each says of itself, its sizes and its rates. Read by the stand-in only. */

export type Size = Readonly<{
  name: string;
  cores: number;
  memoryGib: number;
  rate: string;
  isBurst?: boolean;
  isGraphics?: boolean;
}>;

export type ProviderData = Readonly<{
  name: string;
  currency: "EUR";
  granularityS: Readonly<{ machine: number; group: number; service: number }>;
  minimumS: Readonly<{ machine: number; group: number; service: number }>;
  billedWhenHalted: boolean;
  hibernate: Readonly<{ os: readonly string[]; memoryGibMax: number }>;
  noticeS: number;
  /** Share of the full price that interruptible capacity costs; null where it floats. */
  spotShare: Readonly<{ linux: number; windows: number }> | null;
  ineligible: "burst" | "burst and graphics";
  usualS: Readonly<{ start: number; resume: number; stop: number; hibernate: number }>;
  regions: readonly Readonly<{ name: string; peopleZone: string; zones: readonly string[] }>[];
  sizes: readonly Size[];
  /** Per core-hour. */
  windowsLicence: string;
  serviceLicence: Readonly<{ rate: string; coresMin: number }>;
  /** Per core-hour of a database service. */
  serviceCore: string;
  /** Per GiB-month. */
  disk: Readonly<{ plain: string; fast: string }>;
  image: string;
  /** Per hour. */
  address: Readonly<{ running: string; stopped: string; unattached: string }>;
}>;

export const NORRHAV: ProviderData = {
  name: "norrhav",
  currency: "EUR",
  granularityS: { machine: 1, group: 1, service: 1 },
  minimumS: { machine: 60, group: 60, service: 60 },
  billedWhenHalted: false,
  hibernate: { os: ["linux", "windows"], memoryGibMax: 64 },
  noticeS: 120,
  spotShare: null,
  ineligible: "burst",
  usualS: { start: 60, resume: 25, stop: 30, hibernate: 40 },
  regions: [
    { name: "fjord-1", peopleZone: "Europe/Oslo", zones: ["fjord-1a", "fjord-1b", "fjord-1c"] },
    { name: "cordillera-1", peopleZone: "America/Santiago", zones: ["cordillera-1a", "cordillera-1b"] },
  ],
  sizes: [
    { name: "skiff-2", cores: 2, memoryGib: 8, rate: "0.0416", isBurst: true },
    { name: "sloop-4", cores: 4, memoryGib: 16, rate: "0.1685" },
    { name: "ketch-8", cores: 8, memoryGib: 32, rate: "0.337" },
    { name: "brig-16", cores: 16, memoryGib: 64, rate: "0.674" },
    { name: "lantern-8", cores: 8, memoryGib: 56, rate: "1.142", isGraphics: true },
    { name: "beacon-16", cores: 16, memoryGib: 112, rate: "2.284", isGraphics: true },
    { name: "depot", cores: 1, memoryGib: 8, rate: "0" },
  ],
  windowsLicence: "0.046",
  serviceLicence: { rate: "0.385", coresMin: 4 },
  serviceCore: "0.2115",
  disk: { plain: "0.048", fast: "0.117" },
  image: "0.052",
  address: { running: "0.004", stopped: "0.005", unattached: "0.005" },
};

export const BRACKWATER: ProviderData = {
  name: "brackwater",
  currency: "EUR",
  granularityS: { machine: 60, group: 60, service: 3600 },
  minimumS: { machine: 60, group: 60, service: 3600 },
  billedWhenHalted: true,
  hibernate: { os: ["windows"], memoryGibMax: 128 },
  noticeS: 30,
  spotShare: { linux: 0.22, windows: 0.42 },
  ineligible: "burst and graphics",
  usualS: { start: 70, resume: 30, stop: 35, hibernate: 55 },
  regions: [
    { name: "tasman-2", peopleZone: "Pacific/Auckland", zones: ["tasman-2a", "tasman-2b"] },
    { name: "terai-1", peopleZone: "Asia/Kathmandu", zones: ["terai-1a"] },
  ],
  sizes: [
    { name: "reed-2", cores: 2, memoryGib: 8, rate: "0.039", isBurst: true },
    { name: "heron-4", cores: 4, memoryGib: 16, rate: "0.156" },
    { name: "heron-8", cores: 8, memoryGib: 32, rate: "0.312" },
    { name: "otter-16", cores: 16, memoryGib: 64, rate: "0.624" },
    { name: "glint-8", cores: 8, memoryGib: 112, rate: "1.208", isGraphics: true },
    { name: "silo", cores: 1, memoryGib: 8, rate: "0" },
  ],
  windowsLicence: "0.044",
  serviceLicence: { rate: "0.372", coresMin: 4 },
  serviceCore: "0.198",
  disk: { plain: "0.045", fast: "0.125" },
  image: "0.05",
  address: { running: "0.0036", stopped: "0", unattached: "0.0045" },
};

export const PROVIDERS: readonly ProviderData[] = [NORRHAV, BRACKWATER];
