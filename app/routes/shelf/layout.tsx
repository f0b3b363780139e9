import { NavLink, Outlet } from "react-router";
import { words } from "../../words";
import type { Route } from "./+types/layout";

export const meta: Route.MetaFunction = () => [{ title: `${words.shelf.title} · ${words.product}` }];

const tab =
  "flex min-h-[48px] items-center border-b-[3px] border-transparent px-3 text-soft aria-[current=page]:border-ink aria-[current=page]:font-semibold aria-[current=page]:text-ink";

export default function Shelf() {
  return (
    <>
      <div className="mb-4 flex flex-wrap items-baseline gap-x-6 border-b border-rule">
        <h1 className="text-3xl font-bold tracking-tight">{words.shelf.title}</h1>
        <nav aria-label={words.shelf.title} className="flex flex-wrap">
          <NavLink to="/shelf" end className={tab}>
            {words.shelf.tabs.reagents}
          </NavLink>
          <NavLink to="/shelf/products" className={tab}>
            {words.shelf.tabs.products}
          </NavLink>
          <NavLink to="/shelf/trucks" className={tab}>
            {words.shelf.tabs.trucks}
          </NavLink>
          <NavLink to="/shelf/kits" className={tab}>
            {words.shelf.tabs.kits}
          </NavLink>
        </nav>
      </div>
      <Outlet />
    </>
  );
}
