import { type FormEvent, useEffect, useState } from "react";
import { Button } from "../ui/button";
import { Field } from "../ui/field";
import { words } from "../words";
import { CODE_LENGTH, hasCode, isCode, removeCode, setCode, tryCode } from "./lock";

/** Gives this device a code, another one, or takes it away; the one that it has is asked for first. */
export default function DeviceCode() {
  const [has, setHas] = useState(false);
  const [present, setPresent] = useState("");
  const [next, setNext] = useState("");
  const [answer, setAnswer] = useState<{ text: string; wrong: boolean } | null>(null);
  useEffect(() => setHas(hasCode()), []);
  const said = words.lock;
  const change = async (event: FormEvent, take: boolean) => {
    event.preventDefault();
    if (!take && !isCode(next))
      return setAnswer({
        text: said.length({ least: CODE_LENGTH.least, most: CODE_LENGTH.most }),
        wrong: true,
      });
    const known = has ? await tryCode(present) : "right";
    if (known !== "right")
      return setAnswer({ text: known === 0 ? said.wrong : said.wait({ seconds: known }), wrong: true });
    if (take) removeCode();
    else await setCode(next);
    setHas(!take);
    setPresent("");
    setNext("");
    setAnswer({ text: take ? said.taken : said.set, wrong: false });
  };
  return (
    <details className="w-full">
      <summary className="cursor-pointer py-3">{said.device}</summary>
      <form onSubmit={(event) => change(event, false)} className="grid gap-3 pt-2">
        <p className="text-soft">{said.hint}</p>
        {has ? <CodeField label={said.present} value={present} change={setPresent} /> : null}
        <CodeField
          label={said.next({ least: CODE_LENGTH.least, most: CODE_LENGTH.most })}
          value={next}
          change={setNext}
        />
        {answer ? (
          <p
            role={answer.wrong ? "alert" : "status"}
            className={answer.wrong ? "border-l-4 border-above bg-above-wash p-3 text-above" : ""}
          >
            {answer.text}
          </p>
        ) : null}
        <p className="flex flex-wrap gap-3">
          <Button quiet>{has ? said.change : said.give}</Button>
          {has ? (
            <Button type="button" quiet onClick={(event) => change(event, true)}>
              {said.take}
            </Button>
          ) : null}
        </p>
      </form>
    </details>
  );
}

interface CodeFieldProps {
  label: string;
  value: string;
  change(value: string): void;
}

/** Digits that nobody reads over a shoulder. */
const CodeField = ({ label, value, change }: CodeFieldProps) => (
  <Field label={label}>
    <input
      type="password"
      inputMode="numeric"
      autoComplete="off"
      value={value}
      onChange={(event) => change(event.target.value)}
    />
  </Field>
);
