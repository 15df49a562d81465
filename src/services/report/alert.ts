import type { Instant } from "@/core/time";
import { addMail, type Db, recipientList, reportList } from "@/store";
import type { Services } from "../admin";
import { queueMail, wayOut } from "./deliver";
import { noticeHtml } from "./html";

/** Puts a mail of what needs a person on its way to everybody who gets a report on everything, each address once. */
export async function mailAlert(
  services: Services,
  db: Db,
  { text, href, at }: { text: string; href: string; at: Instant },
): Promise<void> {
  const told = new Set<string>();
  for (const report of await reportList(db)) {
    if (!report.isOn) continue;
    for (const { id: recipientId, address, scope, status } of await recipientList(db, report.id)) {
      if (status !== "confirmed" || scope !== "" || told.has(address)) continue;
      told.add(address);
      const { unsubscribe, headers } = await wayOut(services, recipientId, at);
      const id = await addMail(db, {
        kind: "alert",
        reportId: report.id,
        recipientId,
        address,
        day: null,
        subject: `Umbrik needs a person: ${text}`.slice(0, 200).replaceAll(/\s+/g, " "),
        html: noticeHtml({ title: "Umbrik needs a person", text: `${text}.`, label: "Look at it", href }),
        text: `${text}.\n\nLook at it: ${href}\nNo more of this: ${unsubscribe}\n`,
        headers,
        at,
      });
      if (id !== null) await queueMail(db, id);
    }
  }
}
