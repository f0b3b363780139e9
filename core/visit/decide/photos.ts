import { InputFault } from "../../fault";
import type { Fact } from "../facts";
import type { DecisionInput } from "./input";
import { fact } from "./seen";

/** A photo of the visit; its bytes go a way of their own. */
export const photograph = ({ command }: DecisionInput<"photograph">): Fact[] => [
  fact(command, "photographed", { photoId: command.given.photoId }),
];

/**
 * Takes a photo out of sight. Taken away already: this is the same word once more, and the visit may be closed by now.
 * @throws InputFault "not-there" for a photo that this visit never had, "inconsistent" after the close
 */
export function hidePhoto({ written, command }: DecisionInput<"hide-photo">): Fact[] {
  const { photoId } = command.given;
  if (written.hiddenPhotos?.includes(photoId)) return [];
  if (!written.photos.some(({ id }) => id === photoId)) throw new InputFault("not-there", "photoId", photoId);
  if (written.finishedAt) throw new InputFault("inconsistent", "visit", "finished");
  return [fact(command, "hid-photo", { photoId })];
}
