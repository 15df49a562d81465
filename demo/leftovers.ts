/** Disks and addresses whose machine is gone. */
export const ORPHAN_DISKS: readonly Readonly<{
  account: string;
  region: string;
  gib: number;
  class: "plain" | "fast";
  tags: Record<string, string>;
}>[] = [
  { account: "skerry-survey", region: "fjord-1", gib: 512, class: "plain", tags: { team: "sonar-lab" } },
  { account: "skerry-survey", region: "fjord-1", gib: 128, class: "plain", tags: { team: "sonar-lab" } },
  { account: "skerry-survey", region: "cordillera-1", gib: 128, class: "plain", tags: { team: "replay" } },
  { account: "skerry-survey", region: "cordillera-1", gib: 128, class: "plain", tags: { team: "replay" } },
  { account: "skerry-desks", region: "fjord-1", gib: 256, class: "fast", tags: { team: "draughting" } },
  { account: "skerry-desks", region: "cordillera-1", gib: 256, class: "fast", tags: {} },
  { account: "skerry-south", region: "tasman-2", gib: 1024, class: "plain", tags: {} },
  { account: "skerry-south", region: "tasman-2", gib: 64, class: "fast", tags: { team: "viewer" } },
];

export const ORPHAN_ADDRESSES: readonly Readonly<{ account: string; region: string }>[] = [
  { account: "skerry-survey", region: "fjord-1" },
  { account: "skerry-survey", region: "fjord-1" },
  { account: "skerry-survey", region: "cordillera-1" },
  { account: "skerry-south", region: "tasman-2" },
  { account: "skerry-learn", region: "terai-1" },
];

/** Capacity that is paid for whatever happens. */
export const COMMITMENTS = [
  {
    account: "skerry-survey",
    region: "fjord-1",
    size: "ketch-8",
    units: 6,
    feePerHour: "1.314",
    from: "2027-01-01",
    to: "2027-12-31",
  },
] as const;
