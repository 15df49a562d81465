/** A metric family after OpenMetrics 1.0: a name, what it is, and its samples by labels. */
export type Family = Readonly<{
  name: string;
  type: "counter" | "gauge";
  help: string;
  unit?: string;
  samples: readonly Readonly<{ labels?: Readonly<Record<string, string>>; value: number }>[];
}>;

export const OPEN_METRICS = "application/openmetrics-text; version=1.0.0; charset=utf-8";

/** The older text format of Prometheus, which monitors ask for that know no other. */
export const PROMETHEUS_TEXT = "text/plain; version=0.0.4; charset=utf-8";

/** Families as OpenMetrics text; counters get their suffix, and the text its end. */
export function openMetricsText(families: readonly Family[]): string {
  const lines = families.flatMap(({ name, type, help, unit, samples }) => [
    `# TYPE ${name} ${type}`,
    ...(unit ? [`# UNIT ${name} ${unit}`] : []),
    `# HELP ${name} ${escaped(help)}`,
    ...samples.map(({ labels = {}, value }) => `${name}${type === "counter" ? "_total" : ""}${labelText(labels)} ${value}`),
  ]);
  return `${lines.join("\n")}\n# EOF\n`;
}

/** The same in the older format: a counter's whole name is described, there is no unit and no end. */
export function prometheusText(families: readonly Family[]): string {
  const lines = families.flatMap(({ name, type, help, samples }) => {
    const whole = `${name}${type === "counter" ? "_total" : ""}`;
    return [
      `# HELP ${whole} ${help.replaceAll("\\", "\\\\").replaceAll("\n", "\\n")}`,
      `# TYPE ${whole} ${type}`,
      ...samples.map(({ labels = {}, value }) => `${whole}${labelText(labels)} ${value}`),
    ];
  });
  return `${lines.join("\n")}\n`;
}

function labelText(labels: Readonly<Record<string, string>>): string {
  const pairs = Object.entries(labels).map(([key, value]) => `${key}="${escaped(value)}"`);
  return pairs.length === 0 ? "" : `{${pairs.join(",")}}`;
}

function escaped(text: string): string {
  return text.replaceAll("\\", "\\\\").replaceAll('"', '\\"').replaceAll("\n", "\\n");
}
