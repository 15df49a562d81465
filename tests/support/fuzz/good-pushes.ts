import { REQUEST } from "@/provider/otlp/schema";

const attribute = (key: string, text: string) => ({ key, value: { stringValue: text } });
const point = (n: number) => ({
  attributes: [attribute("cpu", String(n))],
  timeUnixNano: 1_803_888_000_000_000_000 + n,
  asDouble: n / 8,
});

const REQUESTS = [
  {
    resourceMetrics: [
      {
        resource: { attributes: [attribute("host.name", "desk-osl-01")] },
        scopeMetrics: [
          {
            metrics: [
              { name: "system.cpu.utilization", gauge: { dataPoints: [point(1), point(2)] } },
              { name: "system.network.io", sum: { dataPoints: [point(3)], aggregationTemporality: 2, isMonotonic: true } },
            ],
          },
        ],
      },
    ],
  },
  { resourceMetrics: [{ scopeMetrics: [{ metrics: [{ name: "a", summary: { dataPoints: [{}] } }] }] }] },
];

/** Requests that are as the protocol has them, as bytes. */
export function pushBytes(): Uint8Array[] {
  return REQUESTS.map((request) => REQUEST.encode(REQUEST.fromObject(request)).finish());
}

/** The same in JSON. */
export function pushJson(): string[] {
  return REQUESTS.map((request) => JSON.stringify(request));
}
