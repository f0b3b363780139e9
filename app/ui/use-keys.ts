import { useLayoutEffect, useRef } from "react";

/**
 * One key per action, for the whole page. Keys typed into a field are left alone, and so are
 * Enter and Space on a control that does something with them itself.
 */
export function useKeys(keys: Record<string, (() => void) | undefined>): void {
  const current = useRef(keys);
  current.current = keys;
  // With the page itself, not after it: a quick key must not meet the page before.
  useLayoutEffect(() => {
    const press = (event: KeyboardEvent) => {
      if (event.ctrlKey || event.metaKey || event.altKey || event.repeat) return;
      const target = event.target instanceof Element ? event.target : null;
      if (target?.closest("input:not([type=radio]), textarea, select, [contenteditable], [role=dialog]"))
        return;
      const own = event.key === " " || event.key === "Enter";
      if (own && target?.closest("a, button, input") && !target.closest("[data-count]")) return;
      const action = current.current[event.key.length === 1 ? event.key.toLowerCase() : event.key];
      if (!action) return;
      event.preventDefault();
      action();
    };
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  }, []);
}
