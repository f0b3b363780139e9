/** Choices of a select out of words of our own, each under its name. */
export function Options<T extends string>({ of, name }: { of: readonly T[]; name: (one: T) => string }) {
  return of.map((one) => (
    <option key={one} value={one}>
      {name(one)}
    </option>
  ));
}

/** Choices of a select out of things that have names. @param told how a name is told, where not as it stands */
export function NamedOptions({
  of,
  name: told = String,
}: {
  of: readonly { id: string; name: string }[];
  name?: (name: string) => string;
}) {
  return of.map(({ id, name }) => (
    <option key={id} value={id}>
      {told(name)}
    </option>
  ));
}
