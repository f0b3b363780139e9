import { Camera, X } from "lucide-react";
import { type ChangeEvent, useEffect, useRef, useState } from "react";
import { useFetcher } from "react-router";
import { v7 as uuid } from "uuid";
import { words } from "../words";
import { Refused, type SaveAnswer } from "./refused";

/** Longest side of a photo that is kept, pixels; enough to see a stain by. */
const LONGEST = 1600;

interface Props {
  photos: { id: string }[];
  /** Where they are sent, and below which each is found. */
  action: string;
  /** None is added or taken away. */
  fixed?: boolean;
}

/** Photos: taken or chosen, made smaller on the device, sent. */
export function Photos({ photos, action, fixed = false }: Props) {
  const fetcher = useFetcher<SaveAnswer>();
  const input = useRef<HTMLInputElement>(null);
  const [unreadable, setUnreadable] = useState(false);
  const add = async (event: ChangeEvent<HTMLInputElement>) => {
    const file = event.target.files?.[0];
    if (!file) return;
    const smaller = await shrink(file).catch(() => null);
    setUnreadable(smaller === null);
    if (smaller) {
      const form = new FormData();
      form.set("id", uuid());
      form.set("photo", smaller, "photo.jpg");
      await fetcher.submit(form, { method: "post", action, encType: "multipart/form-data" });
    }
    if (input.current) input.current.value = "";
  };
  return (
    <div className="grid gap-2">
      <div className="flex flex-wrap items-center gap-2">
        {photos.map((photo) => (
          <span key={photo.id} className="relative">
            <KeptPhoto id={photo.id} address={`${action}/${photo.id}`} />
            {fixed ? null : (
              <button
                type="button"
                className="absolute -top-2 -right-2 grid h-11 w-11 place-items-start justify-items-end"
                aria-label={words.look.removePhoto}
                onClick={() => fetcher.submit({ remove: photo.id }, { method: "post", action })}
              >
                <X size={22} className="rounded-full border border-soft bg-sheet p-0.5" aria-hidden="true" />
              </button>
            )}
          </span>
        ))}
        {fixed ? null : (
          <label className="quiet-action has-focus-visible:outline-3 has-focus-visible:outline-action">
            <Camera size={20} aria-hidden="true" /> {words.look.photo}
            <input
              ref={input}
              type="file"
              accept="image/*"
              capture="environment"
              className="sr-only"
              onChange={add}
            />
          </label>
        )}
      </div>
      {unreadable ? (
        <p role="alert" className="text-above">
          {words.look.notAPhoto}
        </p>
      ) : null}
      <Refused answer={fetcher.data} />
    </div>
  );
}

/** A photo of the server's; one that waits on this device to be sent is shown from here. */
function KeptPhoto({ id, address }: { id: string; address: string }) {
  const [here, setHere] = useState<string | null>(null);
  useEffect(() => () => (here ? URL.revokeObjectURL(here) : undefined), [here]);
  const lookHere = async () => {
    if (here) return;
    const { photoHere } = await import("../device/photos");
    const blob = await photoHere(id);
    // Neither: it was sent just now, and the server has it.
    setHere(blob ? URL.createObjectURL(blob) : `${address}?again`);
  };
  return (
    <a href={here ?? address} target="_blank" rel="noreferrer">
      <img
        src={here ?? address}
        onError={() => void lookHere()}
        alt={words.look.photoOf}
        className="h-20 w-20 rounded-sm border border-rule object-cover"
      />
    </a>
  );
}

/** The server takes some more; what it makes of a picture may be a little larger than what was sent. */
const MOST_BYTES = 700_000;
/** Ever coarser, then ever smaller: a picture of gravel or leaves takes many times that of a wall. */
const TRIES = [
  [1, 0.8],
  [1, 0.6],
  [0.75, 0.6],
  [0.5, 0.6],
  [0.35, 0.5],
] as const;

/** The picture as a JPEG with its longest side cut to `LONGEST`, and small enough to be sent. */
async function shrink(file: File): Promise<Blob> {
  const bitmap = await createImageBitmap(file);
  const fit = Math.min(1, LONGEST / Math.max(bitmap.width, bitmap.height));
  const canvas = document.createElement("canvas");
  let smallest: Blob | null = null;
  for (const [share, quality] of TRIES) {
    canvas.width = Math.max(1, Math.round(bitmap.width * fit * share));
    canvas.height = Math.max(1, Math.round(bitmap.height * fit * share));
    canvas.getContext("2d")?.drawImage(bitmap, 0, 0, canvas.width, canvas.height);
    smallest = await jpegOf(canvas, quality);
    if (smallest.size <= MOST_BYTES) break;
  }
  bitmap.close();
  if (!smallest) throw new Error("no picture");
  return smallest;
}

const jpegOf = (canvas: HTMLCanvasElement, quality: number): Promise<Blob> =>
  new Promise((resolve, reject) =>
    canvas.toBlob((blob) => (blob ? resolve(blob) : reject(new Error("no picture"))), "image/jpeg", quality),
  );
