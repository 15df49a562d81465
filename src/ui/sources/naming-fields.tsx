"use client";
import type { SourceView } from "@/services/metrics";
import { Choice } from "../kit/choice";
import { Field } from "../kit/field";

export type Naming = SourceView["naming"];

export type NamingFieldsProps = {
  naming: Naming;
  onChange: (naming: Naming) => void;
  /** A Prometheus names machines by a label of each query instead. */
  hasAttribute: boolean;
  accounts: readonly string[];
  at: (path: string) => string | null;
};

const NAMES = [
  { value: "name", label: "the machine's name" },
  { value: "id", label: "the provider's id" },
  { value: "tag", label: "a tag of it" },
];

/** How a source names machines: which attribute, and what of a machine it holds. */
export function NamingFields({ naming, onChange, hasAttribute, accounts, at }: NamingFieldsProps) {
  return (
    <div className="flex flex-wrap items-end gap-2">
      {hasAttribute && (
        <Field
          label="Attribute of the host"
          className="w-[170px]"
          value={naming.attribute}
          placeholder="host.name"
          onChange={({ target }) => onChange({ ...naming, attribute: target.value })}
          error={at("naming.attribute")}
        />
      )}
      <Choice
        label={hasAttribute ? "It holds" : "The label holds"}
        options={NAMES}
        value={naming.names}
        onChange={({ target }) => onChange({ ...naming, names: target.value as Naming["names"] })}
      />
      {naming.names === "tag" && (
        <Field
          label="Tag"
          className="w-[130px]"
          value={naming.tag ?? ""}
          onChange={({ target }) => onChange({ ...naming, tag: target.value })}
          error={at("naming.tag")}
        />
      )}
      {naming.names !== "id" && (
        <Field
          label="Without the domain"
          className="w-[170px]"
          value={naming.domain ?? ""}
          placeholder="none"
          onChange={({ target }) => onChange({ ...naming, domain: target.value || null })}
          error={at("naming.domain")}
        />
      )}
      <Choice
        label="Among machines of"
        options={[{ value: "", label: "every account" }, ...accounts.map((name) => ({ value: name, label: name }))]}
        value={naming.account ?? ""}
        onChange={({ target }) => onChange({ ...naming, account: target.value || null })}
      />
    </div>
  );
}
