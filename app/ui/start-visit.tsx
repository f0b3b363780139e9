import type { FormEvent, ReactNode } from "react";
import { useNavigation, useSubmit } from "react-router";
import { Button } from "./button";
import { useClientId } from "./use-client-id";

interface Props {
  basinId: string;
  quiet?: boolean;
  children: ReactNode;
}

/** Starts a visit at a basin; a double press starts one. */
export function StartVisit({ basinId, quiet = false, children }: Props) {
  const id = useClientId(basinId);
  const submit = useSubmit();
  const navigation = useNavigation();
  const action = `/basins/${basinId}`;
  const start = (event: FormEvent) => {
    event.preventDefault();
    void submit({ id: id() }, { method: "post", action });
  };
  return (
    <form method="post" action={action} onSubmit={start}>
      <Button quiet={quiet} busy={navigation.formAction === action}>
        {children}
      </Button>
    </form>
  );
}
