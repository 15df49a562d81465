import type { Commitment, Discount, Price, PricePoint } from "@/core/pricing";
import type { Instant } from "@/core/time";
import type { Db } from "./pool";
import { whole } from "./whole";

/** Notes a provider's price list as of an instant: what differs from what counted then is a new line of its history. */
export async function savePrices(
  db: Db,
  provider: string,
  { prices, from }: { prices: readonly Price[]; from: Instant },
): Promise<void> {
  await savePoints(
    db,
    prices.map((price) => ({ ...price, provider, validFrom: from, source: "provider", person: "" })),
    { isOnlyNews: true },
  );
}

/** Sets prices by hand from an instant on, or ends that where the rate is null. */
export async function overridePrices(db: Db, points: readonly PricePoint[]): Promise<void> {
  await savePoints(db, points, { isOnlyNews: false });
}

async function savePoints(db: Db, points: readonly PricePoint[], { isOnlyNews }: { isOnlyNews: boolean }): Promise<void> {
  await db.query(
    `insert into price (provider, region, item, size, os, purchase, class, zone, rate, cores_min, valid_from, source, person)
     select line.provider, line.region, line.item, line.size, line.os, line.purchase, line.class, line.zone, line.rate::numeric,
       line.cores_min, to_timestamp(line.valid_from), line.source, line.person
     from unnest($1::text[], $2::text[], $3::text[], $4::text[], $5::text[], $6::text[], $7::text[], $8::text[], $9::text[],
         $10::integer[], $11::double precision[], $12::text[], $13::text[])
       as line (provider, region, item, size, os, purchase, class, zone, rate, cores_min, valid_from, source, person)
     left join lateral (
       select p.rate, p.cores_min
       from price p
       where (p.provider, p.region, p.item, p.size, p.os, p.purchase, p.class, p.zone, p.source)
           = (line.provider, line.region, line.item, line.size, line.os, line.purchase, line.class, line.zone, line.source)
         and p.valid_from <= to_timestamp(line.valid_from)
       order by p.valid_from desc
       limit 1
     ) as known on true
     where not $14::boolean or (line.rate::numeric, line.cores_min) is distinct from (known.rate, known.cores_min)
     on conflict (provider, region, item, size, os, purchase, class, zone, source, valid_from)
       do update set rate = excluded.rate, cores_min = excluded.cores_min, person = excluded.person`,
    [
      ...whatIsPriced(points),
      points.map(({ rate }) => rate),
      points.map(({ coresMin }) => coresMin),
      points.map(({ validFrom }) => validFrom),
      points.map(({ source }) => source),
      points.map(({ person }) => person),
      isOnlyNews,
    ],
  );
}

/** The sizes that a provider has ever had a compute price for in a region. */
export async function pricedSizes(db: Db, provider: string, region: string): Promise<string[]> {
  const { rows } = await db.query<{ size: string }>(
    `select distinct size
     from price
     where provider = $1::text and region = $2::text and item = 'compute' and size <> ''
     order by size
     limit 1001`,
    [provider, region],
  );
  return whole(rows, { most: 1_000, what: "priced sizes" }).map(({ size }) => size);
}

export type StoredCommitment = Commitment & Readonly<{ source: "provider" | "hand"; person: string }>;

/** Every commitment, those that are over too, the latest to end first. */
export async function commitmentList(db: Db): Promise<StoredCommitment[]> {
  const { rows } = await db.query<StoredCommitment>(
    `select id, provider, account, region, size, units, trim_scale(fee_per_hour)::text as "feePerHour",
       from_day as "fromDay", to_day as "toDay", source, person
     from commitment
     order by to_day desc, id
     limit 10001`,
  );
  whole(rows, { most: 10_000, what: "commitments" });
  return rows;
}

export type NewCommitment = Omit<StoredCommitment, "id" | "person">;

/** Stores commitments; one that is there already takes the new units and fee. */
export async function saveCommitments(db: Db, commitments: readonly NewCommitment[], person: string): Promise<void> {
  if (commitments.length === 0) return;
  await db.query(
    `insert into commitment (provider, account, region, size, units, fee_per_hour, from_day, to_day, source, person)
     select provider, account, region, size, units, fee::numeric, from_day::date, to_day::date, source, $10::text
     from unnest($1::text[], $2::text[], $3::text[], $4::text[], $5::integer[], $6::text[], $7::text[], $8::text[], $9::text[])
       as line (provider, account, region, size, units, fee, from_day, to_day, source)
     on conflict (provider, account, region, size, from_day, to_day, source)
       do update set units = excluded.units, fee_per_hour = excluded.fee_per_hour
       where (commitment.units, commitment.fee_per_hour) is distinct from (excluded.units, excluded.fee_per_hour)`,
    [
      commitments.map(({ provider }) => provider),
      commitments.map(({ account }) => account),
      commitments.map(({ region }) => region),
      commitments.map(({ size }) => size),
      commitments.map(({ units }) => units),
      commitments.map(({ feePerHour }) => feePerHour),
      commitments.map(({ fromDay }) => fromDay),
      commitments.map(({ toDay }) => toDay),
      commitments.map(({ source }) => source),
      person,
    ],
  );
}

/** True when there was such a commitment entered by hand, and it is gone now. */
export async function removeCommitment(db: Db, id: number): Promise<boolean> {
  const { rowCount } = await db.query("delete from commitment where id = $1::integer and source = 'hand'", [id]);
  return rowCount === 1;
}

export type StoredDiscount = Discount & Readonly<{ person: string }>;

/** Every discount, those that are over too, the latest to end first. */
export async function discountList(db: Db): Promise<StoredDiscount[]> {
  const { rows } = await db.query<StoredDiscount>(
    `select id, provider, item, size, purchase, trim_scale(percent)::text as percent, from_day as "fromDay", to_day as "toDay", person
     from discount
     order by to_day desc, id
     limit 10001`,
  );
  whole(rows, { most: 10_000, what: "discounts" });
  return rows;
}

export async function addDiscount(db: Db, discount: Omit<Discount, "id">, person: string): Promise<void> {
  await db.query(
    `insert into discount (provider, item, size, purchase, percent, from_day, to_day, person)
     values ($1::text, $2::text, $3::text, $4::text, $5::numeric, $6::date, $7::date, $8::text)`,
    [
      discount.provider,
      discount.item,
      discount.size,
      discount.purchase,
      discount.percent,
      discount.fromDay,
      discount.toDay,
      person,
    ],
  );
}

/** The discount that was taken away; null where there was none. */
export async function removeDiscount(db: Db, id: number): Promise<{ fromDay: string } | null> {
  const { rows } = await db.query<{ fromDay: string }>(
    `delete from discount where id = $1::integer returning from_day as "fromDay"`,
    [id],
  );
  return rows[0] ?? null;
}

/** What each of some prices is of, column by column: provider, region, item, size, os, purchase, class, zone. */
export function whatIsPriced(points: readonly PricePoint[]): readonly (readonly string[])[] {
  return [
    points.map(({ provider }) => provider),
    points.map(({ region }) => region),
    points.map(({ item }) => item),
    points.map(({ size }) => size),
    points.map(({ os }) => os),
    points.map(({ purchase }) => purchase),
    points.map((point) => point.class),
    points.map(({ zone }) => zone),
  ];
}
