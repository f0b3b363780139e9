import { MapPin, Phone } from "lucide-react";
import { ACCESS_FIELDS, type SiteAccess } from "#core";
import { words } from "../words";
import { mapOf } from "./map-link";

interface Props {
  access: SiteAccess | null | undefined;
  /** Street and district, as the device's own map looks for them. */
  address: string;
}

/** How one gets in, behind a tap: nobody reads a code over a shoulder. */
export function GettingIn({ access, address }: Props) {
  const said = words.access;
  if (!access && !address.trim()) return null;
  return (
    <details className="no-print">
      <summary className="min-h-[44px] cursor-pointer content-center font-medium">{said.title}</summary>
      <dl className="grid grid-cols-[auto_1fr] items-center gap-x-4 gap-y-1 pb-2">
        {ACCESS_FIELDS.flatMap((field) => {
          const text = access?.[field];
          return text
            ? [
                <dt key={`${field} name`} className="text-soft">
                  {said.fields[field]}
                </dt>,
                <dd key={field} className={field === "code" ? "text-xl font-bold tabular-nums" : ""}>
                  {field === "phone" ? <Ring number={text} /> : text}
                </dd>,
              ]
            : [];
        })}
      </dl>
      {address.trim() ? (
        <a href={mapOf(address)} className="link inline-flex min-h-[44px] items-center gap-2">
          <MapPin size={18} aria-hidden="true" /> {said.map({ address })}
        </a>
      ) : null}
    </details>
  );
}

const Ring = ({ number }: { number: string }) => (
  <a
    href={`tel:${number.replace(/[^+\d#*,]/g, "")}`}
    className="link inline-flex min-h-[44px] items-center gap-2"
  >
    <Phone size={18} aria-hidden="true" /> {number}
  </a>
);
