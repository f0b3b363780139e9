import { useEffect, useState } from "react";
import { Link, useParams } from "react-router";
import {
  contentOfRecipe,
  greenOutlookAt,
  type NoRecipe,
  problemOf,
  RECIPE_IDS,
  type Recipe,
  type RecipeId,
  type RecipeInput,
  recipeInputOf,
  STEERED,
  spoiledBy,
} from "#core";
import { Button } from "../../ui/button";
import { hoursText, plain, valueText, volumeText, withUnit } from "../../ui/format";
import { jobDays, jobMoney } from "../../ui/outlook-text";
import { Refused } from "../../ui/refused";
import { useUnits } from "../../ui/units";
import { useClientId } from "../../ui/use-client-id";
import { useFirm, useMoney } from "../../ui/use-firm";
import { fill, listText, productName, quantityName, words } from "../../words";
import { askPlanner } from "../../workers/planner";
import { Sight } from "./gauges";
import { StepList } from "./plan-sheet";
import { useSend } from "./use-send";
import { useVisit } from "./use-visit";

const recipeOf = (name: string | undefined) => RECIPE_IDS.find((id) => id === name);

export default function RecipePage() {
  const opened = useVisit();
  const { visit } = opened;
  const id = recipeOf(useParams().recipe);
  const given = recipeInputOf(opened, id);
  const said = words.recipes;
  if (!id) return null;
  return (
    <section aria-label={said.names[id]} className="grid gap-4">
      <h2 className="text-2xl font-bold">{said.names[id]}</h2>
      <p className="max-w-prose text-soft">{said.about[id]}</p>
      {"reason" in given ? (
        <p className="sheet max-w-prose p-4">
          {fill(words.plan.none[given.reason], {
            name: "quantity" in given ? quantityName(given.quantity) : "",
          })}
        </p>
      ) : (
        <>
          {spoiledBy(id, opened).map(({ product, compound }) => (
            <p key={product} className="max-w-prose font-medium text-above">
              ◆ {words.labelled.spoiled({ name: productName(compound) })}
            </p>
          ))}
          {id === "green-pool" ? <GreenTold /> : null}
          <Preview key={id} id={id} given={given} />
        </>
      )}
      <Link to={`/visits/${visit.id}/recipes`} className="link justify-self-start py-3 text-soft">
        {said.back}
      </Link>
    </section>
  );
}

/** The recipe worked out beside the page; the server works it out again when it is begun. */
function useRecipe(id: RecipeId, given: RecipeInput): Recipe | NoRecipe | "working" | "failed" {
  const [recipe, setRecipe] = useState<Recipe | NoRecipe | "working" | "failed">("working");
  const key = JSON.stringify(given);
  // biome-ignore lint/correctness/useExhaustiveDependencies: the input by value; a new object alone asks nothing new
  useEffect(() => {
    let gone = false;
    setRecipe("working");
    askPlanner<Recipe | NoRecipe>((planner) => planner.recipe(id, given)).then(
      (answer) => gone || setRecipe(answer),
      () => gone || setRecipe("failed"),
    );
    return () => {
      gone = true;
    };
  }, [key, id]);
  return recipe;
}

/** What is kept of a recipe, where this device has worked it out. */
const contentIn = (problem: ReturnType<typeof problemOf>, recipe: Recipe | NoRecipe | "failed") =>
  typeof recipe === "string" || "reason" in problem ? {} : { content: contentOfRecipe(problem, recipe) };

function Preview({ id, given }: { id: RecipeId; given: RecipeInput }) {
  const opened = useVisit();
  const { visit, products } = opened;
  const recipe = useRecipe(id, given);
  const key = useClientId(id);
  const { send, busy, answer } = useSend(`/visits/${visit.id}/plan`);
  const said = words.recipes;
  if (recipe === "working")
    return (
      <p role="status" className="sheet p-4 text-soft">
        {words.plan.working}
      </p>
    );
  const begin = (
    <>
      <Refused answer={answer} />
      <Button
        type="button"
        busy={busy}
        className="next-step justify-self-start"
        onClick={() =>
          send({ id: key(), origin: "recipe", name: id, ...contentIn(problemOf(opened, id), recipe) })
        }
      >
        {said.begin}
      </Button>
    </>
  );
  // This device cannot show it; the server can still lead through it.
  if (recipe === "failed") return begin;
  if (typeof recipe === "string") return <p className="sheet max-w-prose p-4">{said.none[recipe]}</p>;
  return (
    <>
      <Facts recipe={recipe} />
      <StepList steps={recipe.steps} products={products} />
      {begin}
    </>
  );
}

/** Days and money of a green pool, told before its first dose. */
function GreenTold() {
  const outlook = greenOutlookAt(useVisit());
  const { currency } = useFirm();
  const said = words.jobs;
  return (
    <section className="sheet grid gap-3 p-4">
      {outlook ? (
        <div>
          <p className="text-lg font-medium">
            {said.before({ days: jobDays(outlook), money: jobMoney(outlook, currency) })}
          </p>
          <p className="text-sm text-soft">{said.spread}</p>
        </div>
      ) : (
        <p>{said.needsSight}</p>
      )}
      <Sight />
    </section>
  );
}

/** What it aims at, what it costs, and what it does to the rest of the water. */
function Facts({ recipe: { facts, cost, before, after } }: { recipe: Recipe }) {
  const units = useUnits();
  const money = useMoney();
  const said = words.recipes;
  const lines = [
    ...(facts.freeChlorine === undefined
      ? []
      : [said.goal({ value: withUnit("freeChlorine", Number(facts.freeChlorine.toPrecision(2)), units) })]),
    ...(facts.litres === undefined
      ? []
      : [
          said.replaced({
            volume: volumeText(facts.litres, units),
            share: `${plain((facts.fraction ?? 0) * 100, 0)}%`,
          }),
        ]),
    ...(facts.hours === undefined ? [] : [said.hours({ hours: hoursText(facts.hours) })]),
    ...(facts.days === undefined ? [] : [said.days({ days: hoursText(facts.days * 24) })]),
    ...(cost > 0 ? [words.plan.cost({ amount: money(cost) })] : []),
  ];
  const moved = STEERED.filter(
    (quantity) => Math.abs(after[quantity] - before[quantity]) > (quantity === "ph" ? 0.03 : 0.5),
  );
  const rounded = (quantity: (typeof STEERED)[number], value: number) =>
    valueText(quantity, Number(value.toPrecision(3)), units);
  return (
    <section className="sheet grid gap-1 p-4">
      <p className="text-lg font-medium">{lines.join("; ")}</p>
      {moved.length > 0 ? (
        <p>
          {said.upsets}:{" "}
          {listText(
            moved.map(
              (quantity) =>
                `${quantityName(quantity)} ${rounded(quantity, before[quantity])} → ${rounded(quantity, after[quantity])}`,
            ),
          )}
        </p>
      ) : null}
    </section>
  );
}
