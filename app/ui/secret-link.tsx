import { Copy } from "lucide-react";
import { useEffect, useState } from "react";
import { words } from "../words";

/** A link that is shown once: selected by a tap, copied by its button. */
export function SecretLink({ path, hint }: { path: string; hint: string }) {
  const [origin, setOrigin] = useState("");
  const [copied, setCopied] = useState(false);
  useEffect(() => setOrigin(location.origin), []);
  const link = `${origin}${path}`;
  return (
    <div className="grid gap-1 border-l-4 border-band-edge pl-3">
      <p role="status">{hint}</p>
      <div className="flex flex-wrap gap-2">
        <input
          readOnly
          aria-label={words.link.label}
          value={link}
          className="min-w-0 flex-1"
          onFocus={(event) => event.target.select()}
        />
        <button
          type="button"
          className="quiet-action"
          onClick={() =>
            // Without the permission the field is still there to be copied by hand.
            navigator.clipboard?.writeText(link).then(
              () => setCopied(true),
              () => setCopied(false),
            )
          }
        >
          <Copy size={18} aria-hidden="true" />
          {copied ? words.link.copied : words.link.copy}
        </button>
      </div>
    </div>
  );
}
