"use client";
import Link from "next/link";
import { useRouter } from "next/navigation";
import { useState } from "react";
import { DAY_S, formatInstant, type Instant } from "@/core/time";
import { Button } from "../kit/button";
import { Field } from "../kit/field";
import { localText, tryParseLocal } from "../kit/local-time";
import { placeOf } from "../kit/when";

export type AsOfProps = { id: string; at: Instant; now: Instant; zone: string; isAsOf: boolean };

/** Asks the page what is due at another instant, written on the wall clock of the machine's zone. */
export function AsOf({ id, at, now, zone, isAsOf }: AsOfProps) {
  const router = useRouter();
  const [text, setText] = useState(localText(at, zone));
  const asked = tryParseLocal(text, zone);
  const address = (t: Instant) => `/machines/${encodeURIComponent(id)}?at=${formatInstant(t)}`;
  return (
    <form
      className="flex items-start gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        if (asked !== null) router.push(address(asked));
      }}
    >
      <Field
        label={`As of, ${placeOf(zone)} time`}
        className="w-[190px]"
        value={text}
        onChange={(event) => setText(event.target.value)}
        error={asked === null ? "write it as 2027-03-28 02:30" : null}
      />
      <Button type="submit" className="mt-[21px]" disabled={asked === null}>
        Show
      </Button>
      <nav aria-label="Other times" className="mt-[26px] flex gap-3 text-[13px]">
        <Link href={address(at - DAY_S)}>a day before</Link>
        <Link href={address(at + DAY_S)}>a day after</Link>
        {isAsOf && (
          <Link href={`/machines/${encodeURIComponent(id)}`} title={localText(now, zone)}>
            back to now
          </Link>
        )}
      </nav>
    </form>
  );
}
