import { expect, test } from "vitest";
import { type Family, openMetricsText, prometheusText } from "./open-metrics";

const FAMILIES: readonly Family[] = [
  { name: "umbrik_rounds", type: "counter", help: "Rounds", samples: [{ labels: { status: 'a"b\\c\nd' }, value: 3 }] },
  { name: "umbrik_lag_seconds", type: "gauge", unit: "seconds", help: "Lag", samples: [{ value: 0.5 }] },
];

test("in the older format a counter's whole name is described, and there is no unit and no end", () => {
  expect(prometheusText(FAMILIES)).toBe(
    [
      "# HELP umbrik_rounds_total Rounds",
      "# TYPE umbrik_rounds_total counter",
      'umbrik_rounds_total{status="a\\"b\\\\c\\nd"} 3',
      "# HELP umbrik_lag_seconds Lag",
      "# TYPE umbrik_lag_seconds gauge",
      "umbrik_lag_seconds 0.5",
      "",
    ].join("\n"),
  );
});

test("families are written as the open format has them, labels escaped, with an end", () => {
  expect(openMetricsText(FAMILIES)).toBe(
    [
      "# TYPE umbrik_rounds counter",
      "# HELP umbrik_rounds Rounds",
      'umbrik_rounds_total{status="a\\"b\\\\c\\nd"} 3',
      "# TYPE umbrik_lag_seconds gauge",
      "# UNIT umbrik_lag_seconds seconds",
      "# HELP umbrik_lag_seconds Lag",
      "umbrik_lag_seconds 0.5",
      "# EOF",
      "",
    ].join("\n"),
  );
});
