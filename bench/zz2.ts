import { parsePlanFile } from "@/core/plan";
import { parseDocument } from "yaml";
for (const n of [1000,2000,4000,8000]) {
  const text = "ba:a: &a [1]\nba: &a [1]\n".repeat(n);
  let t=performance.now(); parseDocument(text,{uniqueKeys:false,prettyErrors:false}); console.log(n, text.length, "yaml", performance.now()-t);
  t=performance.now(); const r=parsePlanFile(text); console.log("ours", performance.now()-t, r.ok ? "" : r.issues.length);
}
