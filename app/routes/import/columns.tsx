import { QUANTITY_NAMES } from "#core";
import type { Mapping, Target } from "#server/exchange/import/mapping";
import { Field } from "../../ui/field";
import { NamedOptions, Options } from "../../ui/options";
import { quantityName, words } from "../../words";
import type { UploadView } from "./view";

interface Named {
  id: string;
  name: string;
}

interface Props {
  table: NonNullable<UploadView["table"]>;
  mapping: Mapping;
  change: (mapping: Mapping) => void;
  basins: Named[];
  products: Named[];
}

const PLAIN = ["date", "time", "basin", "site", "member", "note"] as const;
const READ = QUANTITY_NAMES.filter((name) => name !== "acidDemand" && name !== "baseDemand");

/** What each column is, over the first rows of the file. */
export function Columns({ table, mapping, change, basins, products }: Props) {
  const said = words.import;
  const assign = (place: number, target: string) => {
    const columns = { ...mapping.columns };
    delete columns[place];
    if (target) columns[place] = target as Target;
    change({ ...mapping, columns });
  };
  const choice = <Key extends "dates" | "decimal" | "temperature" | "hardness" | "doses">(
    key: Key,
    names: Record<Mapping[Key], string>,
  ) => (
    <Field label={said.options[key]}>
      <select
        value={mapping[key]}
        onChange={(event) => change({ ...mapping, [key]: event.target.value as Mapping[Key] })}
      >
        {(Object.entries(names) as [string, string][]).map(([value, name]) => (
          <option key={value} value={value}>
            {name}
          </option>
        ))}
      </select>
    </Field>
  );
  return (
    <>
      <div className="grid grid-cols-2 gap-3 wide:grid-cols-6">
        {choice("dates", said.dates)}
        {choice("decimal", said.decimals)}
        {choice("temperature", { C: "°C", F: "°F" })}
        {choice("hardness", said.hardness)}
        {choice("doses", { g: "g", kg: "kg", oz: "oz", lb: "lb" })}
        <Field label={said.basin}>
          <select
            value={mapping.basinId ?? ""}
            onChange={(event) => change({ ...mapping, basinId: event.target.value || null })}
          >
            <option value="">{said.byColumn}</option>
            <NamedOptions of={basins} />
          </select>
        </Field>
      </div>
      <div className="overflow-x-auto">
        <table className="text-left text-sm">
          <thead>
            <tr>
              {table.heading.map((name, place) => (
                // biome-ignore lint/suspicious/noArrayIndexKey: columns are told by their place
                <th key={place} className="p-1 align-bottom font-medium">
                  <span className="block pb-1">{name}</span>
                  <select
                    className="w-40"
                    aria-label={said.columnIs({ name })}
                    value={mapping.columns[place] ?? ""}
                    onChange={(event) => assign(place, event.target.value)}
                  >
                    <option value="">{said.leaveOut}</option>
                    <Options of={PLAIN} name={(one) => said.targets[one]} />
                    {READ.map((quantity) => (
                      <option key={quantity} value={`reading.${quantity}`}>
                        {quantityName(quantity)}
                      </option>
                    ))}
                    {products.map((product) => (
                      <option key={product.id} value={`dose.${product.id}`}>
                        {said.doseOf({ product: product.name })}
                      </option>
                    ))}
                  </select>
                </th>
              ))}
            </tr>
          </thead>
          <tbody className="divide-y divide-rule">
            {table.sample.map((row, index) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: the first rows of a file never move
              <tr key={index}>
                {row.map((cell, place) => (
                  // biome-ignore lint/suspicious/noArrayIndexKey: columns are told by their place
                  <td key={place} className="max-w-48 truncate p-1">
                    {cell}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </>
  );
}
