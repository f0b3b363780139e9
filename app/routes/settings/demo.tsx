import { useState } from "react";
import { Form, useNavigation } from "react-router";
import { Button } from "../../ui/button";
import { words } from "../../words";

/** That this is the demo, and the way to be rid of it; asked twice. */
export function DemoFirm({ firm, owner }: { firm: string; owner: boolean }) {
  const [isAsked, ask] = useState(false);
  const busy = useNavigation().state !== "idle";
  const said = words.demo;
  return (
    <section id="demo" className="sheet grid justify-items-start gap-3 p-4">
      <h2 className="text-xl font-semibold">{said.title}</h2>
      <p>{said.about({ firm })}</p>
      {!owner ? null : isAsked ? (
        <Form method="post" action="/settings/demo" className="grid gap-3" role="alert">
          <p className="border-l-4 border-above bg-above-wash p-3 text-above">{said.sure({ firm })}</p>
          <div className="flex flex-wrap gap-3">
            <Button busy={busy}>{said.yes}</Button>
            <Button type="button" quiet onClick={() => ask(false)}>
              {said.no}
            </Button>
          </div>
        </Form>
      ) : (
        <Button type="button" quiet onClick={() => ask(true)}>
          {said.throw}
        </Button>
      )}
    </section>
  );
}
