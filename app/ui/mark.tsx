/** The product's mark: a staff with its float. */
export function Mark({ className = "h-10 w-10" }: { className?: string }) {
  return (
    <svg viewBox="0 0 32 32" className={className} aria-hidden="true">
      <path d="M11 2h8v28h-8z" fill="none" stroke="currentColor" strokeWidth="2" />
      <path d="M11 7h4M11 12h4M11 17h4M11 22h4" stroke="currentColor" strokeWidth="2" />
      <path d="M19 16l9-5v10z" fill="currentColor" />
    </svg>
  );
}
