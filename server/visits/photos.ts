import sharp from "sharp";
import { InputFault } from "#core";

/** The largest photo kept; the page makes pictures smaller before it sends them. */
const MOST_PHOTO_BYTES = 900_000;
/** A picture that unpacks to more is no photo of a pool but a way to fill the memory. */
const MOST_PIXELS = 40_000_000;

const KINDS = { jpeg: "image/jpeg", png: "image/png", webp: "image/webp" } as const;
const isKind = (format: string | undefined): format is keyof typeof KINDS =>
  format !== undefined && Object.hasOwn(KINDS, format);

/**
 * Checks a sent picture and writes it anew, upright and with nothing in it but the picture: a camera puts
 * in where it was and whose it is.
 * @throws InputFault that names what is wrong with it
 */
export async function checkedPhoto(file: unknown): Promise<{ kind: string; bytes: Buffer }> {
  if (!(file instanceof Blob) || file.size === 0) throw new InputFault("missing", "photo", undefined);
  if (file.size > MOST_PHOTO_BYTES)
    throw new InputFault("too-high", "photoBytes", file.size, MOST_PHOTO_BYTES);
  const unknown = new InputFault("unknown", "photo", file.type.slice(0, 60), ["JPEG", "PNG", "WebP"]);
  const sent = Buffer.from(await file.arrayBuffer());
  const opened = () => sharp(sent, { limitInputPixels: MOST_PIXELS, failOn: "error" });
  // By its head alone, before any of it is unpacked.
  const { format, width, height } = await sharp(sent, { limitInputPixels: false })
    .metadata()
    .catch(() => Promise.reject(unknown));
  if (!isKind(format)) throw unknown;
  if (width * height > MOST_PIXELS)
    throw new InputFault("too-high", "photoPixels", width * height, MOST_PIXELS);
  // Without `keepMetadata` none is written; `rotate` turns the picture as its camera was held.
  const bytes = await opened()
    .rotate()
    .toFormat(format, QUALITY[format])
    .toBuffer()
    .catch(() => Promise.reject(unknown));
  if (bytes.length > MOST_PHOTO_BYTES)
    throw new InputFault("too-high", "photoBytes", bytes.length, MOST_PHOTO_BYTES);
  return { kind: KINDS[format], bytes };
}

const QUALITY = {
  jpeg: { quality: 82, mozjpeg: false },
  png: { compressionLevel: 9 },
  webp: { quality: 82 },
} as const;

/** Pixels of a picture's longer side on paper: it is printed some 8 cm wide. */
const ON_PAPER = 900;

/** A kept photo as it goes into a PDF, which takes no WebP; null where it cannot be read: the rest is printed. */
export const photoForPaper = (bytes: Buffer): Promise<Buffer | null> =>
  sharp(bytes, { limitInputPixels: MOST_PIXELS })
    .resize({ width: ON_PAPER, height: ON_PAPER, fit: "inside", withoutEnlargement: true })
    .jpeg({ quality: 78 })
    .toBuffer()
    .catch(() => null);
