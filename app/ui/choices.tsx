/** Several of a few things, each by a box of its own, told in the order in which they are offered. */
export function Choices<Name extends string>({
  legend,
  of,
  chosen,
  choose,
  text,
}: {
  legend: string;
  of: readonly Name[];
  chosen: readonly Name[];
  choose: (chosen: Name[]) => void;
  text: (name: Name) => string;
}) {
  return (
    <fieldset>
      <legend className="text-sm text-soft">{legend}</legend>
      {of.map((name) => (
        <label key={name} className="flex min-h-[48px] items-center gap-3">
          <input
            type="checkbox"
            checked={chosen.includes(name)}
            onChange={(event) =>
              choose(of.filter((one) => (one === name ? event.target.checked : chosen.includes(one))))
            }
          />
          {text(name)}
        </label>
      ))}
    </fieldset>
  );
}
