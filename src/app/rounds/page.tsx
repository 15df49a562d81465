import { OVERRIDES } from "@/core/rounds";
import { setupView } from "@/services/inventory";
import { mixStory } from "@/services/mix";
import { fleetSummaries } from "@/services/plans";
import { comingEdges, holdList, journalPage, searchJournal } from "@/services/rounds";
import { LivePage } from "@/ui/kit/live-page";
import { Rounds } from "@/ui/rounds/rounds";
import { instantOf } from "../burn-query";
import { journalQueryOf } from "../journal-query";
import { actor, services } from "../services";
import { shownZones } from "../zone";

export const metadata = { title: "Rounds · Umbrik" };

type Props = { searchParams: Promise<Record<string, string | string[] | undefined>> };

export default async function Page({ searchParams }: Props) {
  const params = await searchParams;
  const { before } = params;
  const at = instantOf(params);
  const from = typeof before === "string" && /^\d{1,9}$/.test(before) ? Number(before) : null;
  const query = journalQueryOf(params);
  const isSearch = query.text !== "" || query.outcome !== "" || query.from !== null || query.to !== null;
  const [journal, edges, holds, found, fleets, { accounts }, { shown }, evictions] = await Promise.all([
    journalPage(services(), actor(), { before: from, at }),
    comingEdges(services(), actor(), { at }),
    holdList(services(), actor()),
    isSearch ? searchJournal(services(), actor(), query) : null,
    fleetSummaries(services(), actor()),
    setupView(services(), actor()),
    shownZones(),
    mixStory(services(), actor(), { fleet: null, hours: 24 }),
  ]);
  // As many trips as desks may be in effect: a page lists what people placed and started.
  const placed = holds.current.filter(({ kind }) => OVERRIDES[kind].isMarked);
  const trips = holds.current.filter(({ kind }) => !OVERRIDES[kind].isMarked);
  const heldBack = new Set(holds.held);
  return (
    <>
      <LivePage on={["round", "fleets", "clock", "holds"]} />
      <Rounds
        journal={journal}
        edges={edges}
        holds={{ ...holds, current: placed }}
        trips={{ of: trips.length, held: trips.filter(({ resourceId }) => heldBack.has(resourceId ?? "")).length }}
        found={found}
        evictions={evictions}
        query={query}
        zone={shown[0] ?? "UTC"}
        fleets={fleets.filter(({ isInForce }) => isInForce).map(({ name }) => name)}
        accounts={accounts.map(({ name }) => name)}
      />
    </>
  );
}
