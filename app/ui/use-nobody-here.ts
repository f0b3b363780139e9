import { useEffect } from "react";
import { setMemberHere } from "../device/member";

/**
 * On pages that let somebody in: whoever comes next is told by the server, and until then nothing of anybody's lies
 * open here.
 */
export const useNobodyHere = (): void => useEffect(() => setMemberHere(null), []);
