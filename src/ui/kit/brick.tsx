import type { ResourceState } from "@/core/plan";

/** What a state looks like: a shape of its own, so that colour is never alone. */
const SHAPES: Record<ResourceState, string> = {
  running: "bg-lit border-lit-deep",
  starting: "border-lit-deep bg-[linear-gradient(90deg,var(--lit)_50%,transparent_50%)]",
  stopping: "border-lit-deep bg-[linear-gradient(270deg,var(--lit)_50%,transparent_50%)]",
  halted: "border-loss border-2 bg-transparent",
  hibernated: "hatched border-doze",
  stopped: "bg-shade border-shade",
  gone: "border-dashed border-soft",
};

/** A state as a small brick and its word. */
export function StateBrick({ state }: { state: ResourceState }) {
  return (
    <span className="inline-flex items-center gap-1.5">
      <span aria-hidden className={`inline-block h-2.5 w-4 shrink-0 rounded-[2px] border ${SHAPES[state]}`} />
      {state}
    </span>
  );
}
