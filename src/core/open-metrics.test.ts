import { expect, test } from "vitest";
import { openMetricsText } from "./open-metrics";

test("families are written as the open format has them, labels escaped, with an end", () => {
  const text = openMetricsText([
    { name: "umbrik_rounds", type: "counter", help: "Rounds", samples: [{ labels: { status: 'a"b\\c\nd' }, value: 3 }] },
    { name: "umbrik_lag_seconds", type: "gauge", unit: "seconds", help: "Lag", samples: [{ value: 0.5 }] },
  ]);
  expect(text).toBe(
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
