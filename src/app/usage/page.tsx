import { RefusedError } from "@/services/admin";
import { readClock } from "@/services/rounds";
import { correctionsOf, imports, reconcile } from "@/services/usage";
import { LivePage } from "@/ui/kit/live-page";
import { Notice } from "@/ui/kit/notice";
import { Usage } from "@/ui/usage/usage";
import { actor, services } from "../services";
import { shownZones } from "../zone";

export const metadata = { title: "Usage · Umbrik" };

type Props = { searchParams: Promise<Record<string, string | string[] | undefined>> };

export default async function Page({ searchParams }: Props) {
  const params = await searchParams;
  const text = (name: string) => (typeof params[name] === "string" && params[name] !== "" ? (params[name] as string) : null);
  const importId = /^\d{1,9}$/.test(text("import") ?? "") ? Number(text("import")) : 0;
  const offset = /^\d{1,9}$/.test(text("offset") ?? "") ? Number(text("offset")) : 0;
  const asked = { from: text("from"), to: text("to"), importId, offset };
  const [{ now }, list, { shown }] = await Promise.all([
    readClock(services(), actor()),
    imports(services(), actor()),
    shownZones(),
  ]);
  const { result, problem } = await reconcile(services(), actor(), asked).then(
    (found) => ({ result: found, problem: null }),
    async (error: unknown) => {
      if (!(error instanceof RefusedError)) throw error;
      return { result: await reconcile(services(), actor(), { from: null, to: null, importId }), problem: error.message };
    },
  );
  const corrections = await correctionsOf(services(), actor(), result);
  return (
    <>
      <LivePage on={["spend"]} />
      {problem && <Notice kind="error">{problem}</Notice>}
      <Usage
        key={`${result.from} ${result.to} ${importId}`}
        result={result}
        corrections={corrections}
        imports={list}
        importId={importId}
        now={now}
        zone={shown[0] ?? "UTC"}
      />
    </>
  );
}
