import {
  afterCommand,
  type CommandName,
  commandOf,
  type DeviceStamp,
  decide,
  type Fact,
  InputFault,
  stopAfterTest,
  type VisitCommands,
  visitOf,
} from "#core";
import type { NamedAuthor } from "../author";
import { answerKept, digestOf } from "../db/commands";
import type { FirmScope } from "../db/connection";
import { checkRoomForPhoto } from "../db/keeping";
import { queueMail } from "../db/mail";
import { type PhotoBytes, writeFacts } from "../db/visit-facts";
import { lockVisit, readVisit, type VisitRecord } from "../db/visit-record";
import { startedAs } from "../db/visits";
import { tellOf } from "../db/webhooks";
import { incidentReported, visitClosed } from "../webhooks/happened";

/** A command for a visit as it came. */
export interface CommandInput<Name extends CommandName = CommandName> {
  visitId: string;
  name: Name;
  given: VisitCommands[Name];
  /** What was got ready for it on this side; what was sent makes it the same command again, this does not. */
  found?: VisitCommands[Name] | undefined;
  /** Without one it is done as often as it comes. */
  id?: string | undefined;
  /** Where it was given without the server; nothing when it came with its page. */
  made?: (DeviceStamp & { late: number }) | undefined;
  /** For a photo. */
  photo?: PhotoBytes | undefined;
  /** When it was done, where that is known better than by its coming. */
  at?: Date | undefined;
}

/** How a command ended: what it added, what stands now, and what it is answered with, at once or again. */
export interface Done {
  record: VisitRecord;
  facts: Fact[];
  answer: string | null;
}

/**
 * Carries out a command: one lock, one read, the core's decision, one write. The same command again is
 * answered as it was the first time and adds nothing.
 *
 * @throws InputFault where the core refuses it, and for a visit that is not this firm's
 */
export async function carryOut<Name extends CommandName>(
  scope: FirmScope,
  author: NamedAuthor,
  sent: CommandInput<Name>,
): Promise<Done> {
  await lockVisit(scope, author.firmId, sent.visitId);
  const digest = digestOf([sent.name, sent.visitId, sent.given, sent.photo?.bytes]);
  const record = await readVisit(
    scope,
    { id: sent.visitId, memberId: author.memberId },
    author.now,
    kitsIn(sent),
    sent.id ?? null,
  );
  if (!record) {
    // Begun on a device while another was under way here: it is that one.
    const other = await startedAs(scope, sent.visitId);
    if (!other || other === sent.visitId) throw new InputFault("not-there", "visit", sent.visitId);
    return carryOut(scope, author, { ...sent, visitId: other });
  }
  if (record.known && sent.id) {
    const { answer } = answerKept(record.known, author.memberId, sent.id, digest);
    return { record, facts: [], answer: answer as string | null };
  }
  const { brought, written } = record;
  const command = commandOf(sent.name, sent.found ?? sent.given, {
    id: sent.id ?? "",
    by: { id: author.memberId, name: author.memberName },
    at: momentOf(sent, author.now, brought.visit.startedAt),
    seen: sent.made?.seen,
  });
  const facts = decide(brought, written, command);
  if (sent.photo) await checkRoomForPhoto(scope, sent.photo.bytes);
  const standing = { ...record, written: afterCommand(written, facts) };
  const answer = answerOf(sent, standing, facts, author.now);
  await writeFacts(
    scope,
    record,
    facts,
    author,
    sent.id
      ? {
          firmId: author.firmId,
          memberId: author.memberId,
          id: sent.id,
          name: sent.name,
          digest,
          answer,
          receivedAt: author.now,
          made: sent.made ?? null,
        }
      : null,
    sent.photo,
  );
  // With the close or not at all: a letter of a visit that is not closed, or none of one that is, cannot be.
  const isClosed = facts.some(({ kind }) => kind === "closed");
  if (isClosed) await queueMail(scope, author.firmId, brought.visit.id, author.now);
  const incidents = facts.flatMap((fact) => (fact.kind === "happened" ? [fact.incident.id] : []));
  if (isClosed || incidents.length > 0)
    await tellOf(scope, author.firmId, author.now, async () => [
      ...incidents.map((id) => incidentReported(id, brought.visit.id, brought.basin.id)),
      ...(isClosed ? await visitClosed(scope, brought.visit.id) : []),
    ]);
  return { record: standing, facts, answer };
}

/**
 * When a command was done. A device's clock may be years off: what it says counts as so long before its own
 * moment of sending, never before the visit began and never after now.
 */
function momentOf({ made, at }: CommandInput, now: Date, startedAt: Date): Date {
  if (at) return at;
  if (!made) return now;
  const then = now.getTime() - Math.max(0, made.late);
  return new Date(Math.min(now.getTime(), Math.max(startedAt.getTime(), then)));
}

/** Versions of kits that a command names. */
const kitsIn = ({ name, given }: CommandInput): string[] =>
  name === "read"
    ? (given as VisitCommands["read"]).tests.flatMap(({ kitId }) => (kitId ? [kitId] : []))
    : [];

/** What a page needs to go on. */
function answerOf(
  { name, given }: CommandInput,
  { brought, written }: VisitRecord,
  facts: Fact[],
  now: Date,
): string | null {
  if (name === "close") return facts.some(({ kind }) => kind === "closed") ? "now" : "before";
  if (name !== "read") return null;
  const [first] = (given as VisitCommands["read"]).tests;
  return first ? stopAfterTest(brought, visitOf(brought, written, now), first) : null;
}
