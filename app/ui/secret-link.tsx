import { Copy, Share2 } from "lucide-react";
import { useEffect, useState } from "react";
import { words } from "../words";

/** A link that is shown once: selected by a tap, copied by its button. */
export function SecretLink({
  path,
  hint,
  share,
}: {
  path: string;
  hint: string;
  /** What goes along where the device hands the link on by its own means; left out, that is not offered. */
  share?: string;
}) {
  const [origin, setOrigin] = useState("");
  useEffect(() => setOrigin(location.origin), []);
  return <SecretText text={`${origin}${path}`} hint={hint} {...(share === undefined ? {} : { share })} />;
}

/** The same of what is no link. */
export function SecretText({ text, hint, share }: { text: string; hint: string; share?: string }) {
  const [copied, setCopied] = useState(false);
  const [canShare, setCanShare] = useState(false);
  useEffect(() => {
    setCanShare(share !== undefined && "share" in navigator);
  }, [share]);
  return (
    <div className="grid gap-1 border-l-4 border-band-edge pl-3">
      <p role="status">{hint}</p>
      <div className="flex flex-wrap gap-2">
        <input
          readOnly
          aria-label={words.link.label}
          value={text}
          className="min-w-0 flex-1"
          onFocus={(event) => event.target.select()}
        />
        <button
          type="button"
          className="quiet-action"
          onClick={() =>
            // Without the permission the field is still there to be copied by hand.
            navigator.clipboard?.writeText(text).then(
              () => setCopied(true),
              () => setCopied(false),
            )
          }
        >
          <Copy size={18} aria-hidden="true" />
          {copied ? words.link.copied : words.link.copy}
        </button>
        {canShare ? (
          <button
            type="button"
            className="quiet-action"
            // Put away without a choice, it was shared with nobody: nothing to say.
            onClick={() => void navigator.share({ text: share ?? "", url: text }).catch(() => {})}
          >
            <Share2 size={18} aria-hidden="true" /> {words.mail.sheet.share}
          </button>
        ) : null}
      </div>
    </div>
  );
}
