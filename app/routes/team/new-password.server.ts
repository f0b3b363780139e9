import { InputFault } from "#core";
import { LONGEST_PASSWORD, SHORTEST_PASSWORD } from "#server/auth/password-length";
import { textOf } from "../../request";

/**
 * A password that somebody chose; told by its length when it will not do: it is never sent back.
 * @throws InputFault with the length and what it must be
 */
export function newPassword(form: FormData, field: string): string {
  const password = textOf(form, field);
  if (password.length < SHORTEST_PASSWORD)
    throw new InputFault("too-low", "passwordLength", password.length, SHORTEST_PASSWORD);
  if (password.length > LONGEST_PASSWORD)
    throw new InputFault("too-high", "passwordLength", password.length, LONGEST_PASSWORD);
  return password;
}
