import type { ReactNode } from "react";
import { Form, useNavigation } from "react-router";
import { Button } from "./button";
import { useClientId } from "./use-client-id";

/** Starts a visit at a basin; a double press starts one. */
export function StartVisit({
  basinId,
  quiet = false,
  children,
}: {
  basinId: string;
  quiet?: boolean;
  children: ReactNode;
}) {
  const id = useClientId(basinId);
  const navigation = useNavigation();
  const action = `/basins/${basinId}`;
  return (
    <Form method="post" action={action}>
      <input type="hidden" name="id" value={id} />
      <Button quiet={quiet} busy={id === "" || navigation.formAction === action}>
        {children}
      </Button>
    </Form>
  );
}
