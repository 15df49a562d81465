import type { Stranger } from "@/services/metrics";

/** Hosts that name no machine, with whom they nearly name. */
export function Strangers({ hosts, of }: { hosts: readonly Stranger[]; of: number }) {
  if (of === 0) return null;
  return (
    <ul className="text-[13px]">
      {hosts.map(({ identity, why, nearly }) => (
        <li key={identity}>
          <span className="font-semibold">{identity}</span> {why}
          {nearly && (
            <>
              ; nearly <span className="font-semibold">{nearly}</span>
            </>
          )}
        </li>
      ))}
      {hosts.length < of && <li>and {of - hosts.length} more</li>}
    </ul>
  );
}
