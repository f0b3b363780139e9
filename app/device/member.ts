/** Whose this page is, and whose device: apart from the store, so that a page can tell without it. */

const MEMBER = "pelagon.member";

/** Whom the server said that this page is for; undefined until it has. */
let page: string | null | undefined;

/** Who signed in last in this browser, in whichever tab; null where nobody is, or nothing may be kept. */
export function memberOfDevice(): string | null {
  try {
    return localStorage.getItem(MEMBER);
  } catch {
    return null;
  }
}

/**
 * Whose page this is: what is done in it is theirs, also where another has signed in in another tab since. Before
 * the server has said so it is the device's member.
 */
export const memberHere = (): string | null => (page === undefined ? memberOfDevice() : page);

export function setMemberHere(memberId: string | null): void {
  page = memberId;
  try {
    if (memberId === null) localStorage.removeItem(MEMBER);
    else if (memberOfDevice() !== memberId) localStorage.setItem(MEMBER, memberId);
  } catch {
    // Nothing is kept on such a device: every page asks the server.
  }
}

/**
 * Tells when somebody else has signed in in another tab: what this page asks of the server goes by their cookie
 * from then on. A page that was asleep meanwhile hears of it when it is looked at again.
 */
export function onAnotherHere(tell: () => void): () => void {
  const look = () => {
    const now = memberOfDevice();
    if (now !== null && now !== memberHere()) tell();
  };
  window.addEventListener("storage", look);
  document.addEventListener("visibilitychange", look);
  window.addEventListener("pageshow", look);
  return () => {
    window.removeEventListener("storage", look);
    document.removeEventListener("visibilitychange", look);
    window.removeEventListener("pageshow", look);
  };
}
