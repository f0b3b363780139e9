import { X } from "lucide-react";
import type { ReactNode } from "react";
import { words } from "../words";

/** A labelled control of a form. */
export function Field({
  label,
  className = "",
  children,
}: {
  label: string;
  className?: string;
  children: ReactNode;
}) {
  return (
    // biome-ignore lint/a11y/noLabelWithoutControl: the control is what is put inside
    <label
      className={`grid min-w-0 content-end gap-1 text-sm text-soft [&>*]:w-full [&>*]:min-w-0 [&>*]:text-base ${className}`}
    >
      {label}
      {children}
    </label>
  );
}

export function RemoveButton({ onClick }: { onClick: () => void }) {
  return (
    <button
      type="button"
      aria-label={words.kits.remove}
      className="grid h-12 w-12 cursor-pointer place-items-center"
      onClick={onClick}
    >
      <X size={20} aria-hidden="true" />
    </button>
  );
}
