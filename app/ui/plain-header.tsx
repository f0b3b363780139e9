import type { ReactNode } from "react";
import { Link } from "react-router";
import { words } from "../words";
import { Mark } from "./mark";

/** The head of a page that needs no sign-in. */
export function PlainHeader({
  title,
  home = "/",
  children,
}: {
  title: ReactNode;
  home?: string;
  children?: ReactNode;
}) {
  return (
    <header className="no-print border-b border-rule">
      <div className="mx-auto flex max-w-6xl items-center gap-4 px-4 py-2">
        <Link to={home} aria-label={words.product}>
          <Mark className="h-7 w-7" />
        </Link>
        {title}
        {children ? <div className="ml-auto flex items-center gap-4">{children}</div> : null}
      </div>
    </header>
  );
}
