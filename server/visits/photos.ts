import { InputFault } from "#core";

/** The largest photo kept; the page makes pictures smaller before it sends them. */
export const MOST_PHOTO_BYTES = 900_000;

/** What a file is by its first bytes, whatever it calls itself; null when it is no picture we know. */
function kindOf(bytes: Buffer): string | null {
  if (bytes.length > 3 && bytes.readUIntBE(0, 3) === 0xffd8ff) return "image/jpeg";
  if (bytes.subarray(0, 8).equals(Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a])))
    return "image/png";
  if (bytes.toString("latin1", 0, 4) === "RIFF" && bytes.toString("latin1", 8, 12) === "WEBP")
    return "image/webp";
  return null;
}

/** Checks a sent picture; an `InputFault` names what is wrong with it. */
export async function checkedPhoto(file: unknown): Promise<{ kind: string; bytes: Buffer }> {
  if (!(file instanceof Blob) || file.size === 0) throw new InputFault("missing", "photo", undefined);
  if (file.size > MOST_PHOTO_BYTES)
    throw new InputFault("too-high", "photoBytes", file.size, MOST_PHOTO_BYTES);
  const bytes = Buffer.from(await file.arrayBuffer());
  const kind = kindOf(bytes);
  if (!kind) throw new InputFault("unknown", "photo", file.type.slice(0, 60), ["JPEG", "PNG", "WebP"]);
  return { kind, bytes };
}
