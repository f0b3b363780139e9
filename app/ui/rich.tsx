import { Fragment, type ReactNode } from "react";

/** Stands for a part until the sentence is whole; no language has it. */
const MARK = "\u0001";

interface Props<Name extends string> {
  message: (values: Record<Name, string>) => string;
  parts: Record<Name, ReactNode>;
}

/** A sentence with elements in it, wherever its language puts them. */
export function Rich<Name extends string>({ message, parts }: Props<Name>) {
  const names = Object.keys(parts) as Name[];
  const marked = message(
    Object.fromEntries(names.map((name) => [name, MARK + name + MARK])) as Record<Name, string>,
  );
  // Every second piece is a name.
  return marked.split(MARK).map((piece, index) => (
    // biome-ignore lint/suspicious/noArrayIndexKey: the pieces of a sentence stay where they are
    <Fragment key={`${index} ${piece}`}>{index % 2 ? parts[piece as Name] : piece}</Fragment>
  ));
}
