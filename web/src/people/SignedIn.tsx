// Pages that need somebody signed in.
import { useQuery } from "@tanstack/react-query";
import { Navigate, Outlet, useLocation } from "react-router";
import { api, Problem } from "../api/client";
import { ErrorNote, Waiting } from "../ui/parts";
import { PersonContext } from "../ui/session";
import { FirstPassword } from "./FirstPassword";

/** Shows a page to somebody signed in, and leads everybody else to the sign-in page. */
export function SignedIn() {
  const here = useLocation().pathname;
  const who = useQuery({
    queryKey: ["who"],
    queryFn: api.who,
    retry: false,
    staleTime: Number.POSITIVE_INFINITY,
  });
  if (who.isPending) return <Waiting what="One moment…" />;
  if (who.error instanceof Problem && who.error.body.status === 401)
    return <Navigate to="/sign-in" state={{ from: here }} replace />;
  if (who.error)
    return (
      <main className="p-6">
        <ErrorNote text={who.error.message} retry={() => who.refetch()} />
      </main>
    );
  return (
    <PersonContext value={who.data}>{who.data.must_choose ? <FirstPassword /> : <Outlet />}</PersonContext>
  );
}
