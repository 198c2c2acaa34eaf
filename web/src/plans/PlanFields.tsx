import type { ReactNode } from "react";

/** Controls that change the plan: disabled for whoever may only view it. */
export function PlanFields({ plan, children }: { plan: { may_edit: boolean }; children: ReactNode }) {
  return (
    <fieldset disabled={!plan.may_edit} className="contents">
      {children}
    </fieldset>
  );
}
