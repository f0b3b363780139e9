/** Whose device this is just now. Apart from the store, so that a page can tell without it. */

const MEMBER = "pelagon.member";

/** Who is signed in here, as far as this device knows; null where nobody is, or nothing may be kept. */
export function memberHere(): string | null {
  try {
    return localStorage.getItem(MEMBER);
  } catch {
    return null;
  }
}

export function setMemberHere(memberId: string | null): void {
  try {
    if (memberId === null) localStorage.removeItem(MEMBER);
    else localStorage.setItem(MEMBER, memberId);
  } catch {
    // Nothing is kept on such a device: every page asks the server.
  }
}
