import { Readable } from "node:stream";
import { createTransport, type Transporter } from "nodemailer";
import type { MailServer } from "../db/mail";

/** Handing letters to a firm's own mail server. */

export interface Letter {
  to: string;
  subject: string;
  text: string;
  /** The page that stops these letters: mail programs offer it beside them (RFC 2369). */
  stopUrl: string;
  /** Of the letter, for good: a server that tells twins apart keeps one (RFC 5322, RFC 7352). */
  id: string;
}

/** How a letter was taken: by the server, for good not, not now, or nobody can say. */
export type Handed =
  | { taken: true }
  | { taken: false; final: boolean; why: string }
  | { taken: null; why: string };

/** No server is waited for longer. Milliseconds */
const CONNECT_MS = 15_000;
const ANSWER_MS = 30_000;

const transport = ({ host, port, tls, username }: MailServer, password: string | null): Transporter =>
  createTransport({
    host,
    port,
    secure: tls === "at-once",
    ignoreTLS: tls === "none",
    requireTLS: tls === "asked",
    connectionTimeout: CONNECT_MS,
    greetingTimeout: CONNECT_MS,
    socketTimeout: ANSWER_MS,
    disableFileAccess: true,
    disableUrlAccess: true,
    ...(username ? { auth: { user: username, pass: password ?? "" } } : {}),
  });

/** What nodemailer says of a failure, with the server's own code where it gave one. */
interface SmtpFault extends Error {
  code?: string;
  responseCode?: number;
}

const asFault = (fault: unknown): SmtpFault => (fault instanceof Error ? fault : new Error(String(fault)));

/**
 * Hands a letter over. A connection that breaks after the whole of it was sent and before the server's answer leaves
 * open whether it was taken.
 */
export async function handOver(server: MailServer, password: string | null, letter: Letter): Promise<Handed> {
  const sender = transport(server, password);
  // The server asks for a letter's text last of all: once it was read from here, it may have been taken.
  let isRead = false;
  function* text() {
    isRead = true;
    yield letter.text;
  }
  try {
    await sender.sendMail({
      from: server.sender,
      to: letter.to,
      subject: letter.subject,
      text: Readable.from(text()),
      messageId: `<${letter.id}@pelagon.invalid>`,
      headers: { "Auto-Submitted": "auto-generated" },
      list: { unsubscribe: letter.stopUrl },
    });
    return { taken: true };
  } catch (thrown) {
    const fault = asFault(thrown);
    const why = fault.message.slice(0, 400);
    if (fault.responseCode !== undefined) return { taken: false, final: fault.responseCode >= 500, why };
    return isRead ? { taken: null, why } : { taken: false, final: false, why };
  } finally {
    sender.close();
  }
}

/** Whether a server lets somebody in with this; what it said, where it does not. */
export async function tryServer(server: MailServer, password: string | null): Promise<string | null> {
  const sender = transport(server, password);
  try {
    await sender.verify();
    return null;
  } catch (fault) {
    return asFault(fault).message.slice(0, 400);
  } finally {
    sender.close();
  }
}
