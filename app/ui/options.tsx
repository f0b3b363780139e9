/** Choices of a select out of words of our own, each under its name. */
export function Options<T extends string>({ of, name }: { of: readonly T[]; name: (one: T) => string }) {
  return of.map((one) => (
    <option key={one} value={one}>
      {name(one)}
    </option>
  ));
}

/** Choices of a select out of things that have names. */
export function NamedOptions({ of }: { of: readonly { id: string; name: string }[] }) {
  return of.map(({ id, name }) => (
    <option key={id} value={id}>
      {name}
    </option>
  ));
}
