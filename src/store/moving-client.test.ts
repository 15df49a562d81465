import { expect, test } from "vitest";
import { hostsOf } from "./moving-client";

test.each([
  ["postgres://u:p@a:5432/d", ["postgres://u:p@a:5432/d"]],
  ["postgres://u:p@a:5432,b:5433/d", ["postgres://u:p@a:5432/d", "postgres://u:p@b:5433/d"]],
  ["postgresql://a,b/d?target_session_attrs=read-write&x=1", ["postgresql://a/d?x=1", "postgresql://b/d?x=1"]],
  ["postgres://u:p@a,b/d?target_session_attrs=read-write", ["postgres://u:p@a/d", "postgres://u:p@b/d"]],
])("the hosts of %s", (url, expected) => {
  expect(hostsOf(url)).toEqual(expected);
});
