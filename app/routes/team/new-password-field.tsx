import { LONGEST_PASSWORD, SHORTEST_PASSWORD } from "#server/auth/password-length";
import { Field } from "../../ui/field";

/** A password that is chosen here; how long it must be is told before it is typed. */
export function NewPasswordField({
  name,
  label,
}: {
  name: string;
  label: (values: { shortest: number }) => string;
}) {
  return (
    <Field label={label({ shortest: SHORTEST_PASSWORD })}>
      <input name={name} type="password" required maxLength={LONGEST_PASSWORD} autoComplete="new-password" />
    </Field>
  );
}
