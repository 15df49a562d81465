import type { MachineLife } from "@/services/inventory";
import { AtLink } from "../as-of/at-link";
import { Button } from "../kit/button";
import { Field } from "../kit/field";
import { dayTimePlace } from "../kit/when";
import { Runs } from "./runs";

/** The whole life of one machine, run by run, with a search over its reasons, people, rounds and states. */
export function Life({ life, text }: { life: MachineLife; text: string }) {
  const { resource, now, zone, runs, older, from } = life;
  const path = `/machines/${encodeURIComponent(resource.id)}`;
  const search = text === "" ? "" : `search=${encodeURIComponent(text)}&`;
  return (
    <div className="px-4 py-3">
      <h1 className="mb-2 font-medium text-[20px] leading-7">
        The life of <AtLink href={path}>{resource.name}</AtLink>
      </h1>
      {/* A plain form: the address is the search, and works without a script. */}
      <form role="search" action={`${path}/life`} className="mb-2 flex flex-wrap items-end gap-2">
        <Field
          label="Reason, person, round or state"
          isLabelHidden
          placeholder="Reason, person, round or state"
          className="w-[260px]"
          name="search"
          defaultValue={text}
        />
        <Button type="submit">Search</Button>
        {text !== "" && (
          <AtLink href={`${path}/life`} className="self-center">
            all runs
          </AtLink>
        )}
      </form>
      {runs.length === 0 && text !== "" ? (
        <p>No run {from !== null && `since ${dayTimePlace(from, zone, now)} `}answers to this.</p>
      ) : (
        <Runs runs={runs} isMany={resource.kind !== "machine"} zone={zone} now={now} />
      )}
      <p className="mt-2">
        {older !== null ? (
          <AtLink href={`${path}/life?${search}before=${older}`}>older runs</AtLink>
        ) : (
          from !== null && <span className="text-soft">First told of on {dayTimePlace(from, zone, now)}.</span>
        )}
      </p>
    </div>
  );
}
