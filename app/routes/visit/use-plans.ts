import { useEffect, useState } from "react";
import type { PlanProblem, ShownPlans } from "#core";
import { askPlanner } from "../../workers/planner";

interface Working {
  plans: ShownPlans | null;
  /** The worker could not, and the server did it. */
  byServer: boolean;
  failed: boolean;
}

/** The plans for a problem, worked out beside the page; by the server where this device cannot. */
export function usePlans(problem: PlanProblem, visitId: string): Working {
  const [working, setWorking] = useState<Working>({ plans: null, byServer: false, failed: false });
  const key = JSON.stringify(problem);
  // biome-ignore lint/correctness/useExhaustiveDependencies: the problem by value; a new object alone asks nothing new
  useEffect(() => {
    let gone = false;
    const tell = (told: Working) => {
      if (!gone) setWorking(told);
    };
    setWorking({ plans: null, byServer: false, failed: false });
    askPlanner((planner) => planner.plans(problem))
      .then((plans) => tell({ plans, byServer: false, failed: false }))
      .catch(async () => {
        const answer = await fetch(`/visits/${visitId}/plans`);
        const plans: ShownPlans | null = answer.ok ? await answer.json() : null;
        tell({ plans, byServer: true, failed: plans === null });
      })
      .catch(() => tell({ plans: null, byServer: true, failed: true }));
    return () => {
      gone = true;
    };
  }, [key, visitId]);
  return working;
}
