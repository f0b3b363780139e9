import type { CommandName, DeviceStamp } from "#core";

/** Work that could not be sent by whoever did it, as it is carried from a device to an owner. */
export interface WorkFile {
  format: "pelagon.work";
  version: 1;
  member: { id: string; name: string };
  firm: string;
  /** By the clock of the device. */
  savedAt: string;
  commands: WorkCommand[];
  /** Pictures of the commands that need one, by the command's id, in base 64. */
  photos: Record<string, string>;
}

/** Commands of a file that are sent together. */
export const MOST_COMMANDS = 25;

export interface WorkCommand {
  id: string;
  name: CommandName | "start";
  visitId: string;
  given: unknown;
  made: Omit<DeviceStamp, "at"> & { at: string };
}

/**
 * A file as it was saved; null where it is none. What its commands carry is for the server to check.
 * @example readWorkFile("{}") // null
 */
export function readWorkFile(text: string): WorkFile | null {
  try {
    const file = JSON.parse(text) as WorkFile;
    const isWhole =
      file.format === "pelagon.work" &&
      file.version === 1 &&
      typeof file.member.id === "string" &&
      Array.isArray(file.commands) &&
      file.commands.every(({ id, name, made }) => Boolean(id && name && made.at));
    return isWhole ? { ...file, photos: file.photos ?? {} } : null;
  } catch {
    return null;
  }
}

/**
 * A file's commands as they are sent: so many together, and each that has a picture by itself.
 * @example batchesOf(file, 25).map((batch) => batch.length) // [25, 3]
 */
export function batchesOf({ commands, photos }: WorkFile, most: number): WorkCommand[][] {
  const batches: WorkCommand[][] = [];
  let open: WorkCommand[] | null = null;
  for (const command of commands) {
    const isAlone = command.id in photos;
    if (isAlone || !open || open.length >= most) {
      open = [];
      batches.push(open);
    }
    open.push(command);
    if (isAlone) open = null;
  }
  return batches;
}
