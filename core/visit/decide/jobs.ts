import { InputFault } from "../../fault";
import { jobOf } from "../../jobs/job";
import type { Fact } from "../facts";
import { greenOutlookAt, jobAt } from "../jobs";
import { type OpenedVisit, openJobs, visitOf } from "../visit";
import type { DecisionInput } from "./input";
import { fact, isDecided } from "./seen";

/** The job that a recipe begins with the first of its calls; none where one of its kind is under way. */
export function jobBegun(
  opened: OpenedVisit,
  recipe: string,
  command: DecisionInput<"begin-plan">["command"],
): Fact[] {
  const kind = jobOf(recipe);
  if (!kind || openJobs(opened).some(({ job }) => job.kind === kind)) return [];
  return [
    fact(command, "job-begun", {
      job: {
        id: command.id,
        kind,
        begunAt: command.at,
        by: command.by.name,
        told: kind === "green" ? greenOutlookAt(opened) : null,
        over: null,
      },
    }),
  ];
}

/**
 * Ends a job: done once everything shows that has to, or given up for a reason.
 * @throws InputFault "unknown" job, "missing" reason, "unconfirmed" with what does not show yet
 */
export function endJob({ brought, written, command }: DecisionInput<"end-job">): Fact[] {
  const { jobId, won, why } = command.given;
  const opened = visitOf(brought, written, command.at);
  const here = opened.jobs.find(({ job }) => job.id === jobId);
  if (!here) throw new InputFault("unknown", "jobId", jobId);
  if (here.job.over) return [];
  const reason = why.trim();
  if (!won && reason === "") throw new InputFault("missing", "why", why);
  const missing = won ? jobAt(opened, here).checks.filter(({ holds }) => holds !== true) : [];
  if (missing.length > 0 && !isDecided(command.seen))
    throw new InputFault(
      "unconfirmed",
      "job",
      here.job.kind,
      missing.map(({ code }) => code),
    );
  const over = { at: command.at, by: command.by.name, won, why: won ? "" : reason };
  return [fact(command, "job-over", { job: { ...here.job, over } })];
}
