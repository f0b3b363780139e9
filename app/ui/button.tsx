import type { ComponentProps } from "react";

type Props = ComponentProps<"button"> & { busy?: boolean; quiet?: boolean; shortcut?: string };

/** A button with its key on it. While busy it takes no second press. */
export function Button({
  busy = false,
  quiet = false,
  shortcut,
  children,
  disabled,
  className = "",
  ...rest
}: Props) {
  return (
    <button
      type="submit"
      className={`${quiet ? "quiet-action" : "action"} ${className}`}
      disabled={disabled || busy}
      aria-keyshortcuts={shortcut}
      {...rest}
    >
      {children}
      {shortcut ? <kbd className="key">{shortcut}</kbd> : null}
    </button>
  );
}
