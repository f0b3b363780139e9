import { useEffect, useState } from "react";
import type { HorizonProblem } from "#core";
import { askPlanner } from "../../workers/planner";
import type { PlanAhead } from "../../workers/planner.worker";

interface Working {
  ahead: PlanAhead | null;
  /** The worker could not, and the server did it. */
  byServer: boolean;
  failed: boolean;
}

/** The plan for a problem, worked out beside the page; by the server where this device cannot. */
export function usePlans(problem: HorizonProblem, visitId: string): Working {
  const [working, setWorking] = useState<Working>({ ahead: null, byServer: false, failed: false });
  const key = JSON.stringify(problem);
  // biome-ignore lint/correctness/useExhaustiveDependencies: the problem by value; a new object alone asks nothing new
  useEffect(() => {
    let gone = false;
    const tell = (told: Working) => {
      if (!gone) setWorking(told);
    };
    setWorking({ ahead: null, byServer: false, failed: false });
    askPlanner((planner) => planner.ahead(problem))
      .then((ahead) => tell({ ahead, byServer: false, failed: false }))
      .catch(async () => {
        const answer = await fetch(`/visits/${visitId}/plans`);
        const ahead: PlanAhead | null = answer.ok ? await answer.json() : null;
        tell({ ahead, byServer: true, failed: ahead === null });
      })
      .catch(() => tell({ ahead: null, byServer: true, failed: true }));
    return () => {
      gone = true;
    };
  }, [key, visitId]);
  return working;
}
