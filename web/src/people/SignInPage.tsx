import { useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { Link, useLocation, useNavigate } from "react-router";
import { api } from "../api/client";
import { Button } from "../ui/parts";
import { DoorPage } from "./DoorPage";
import { FormField } from "./FormField";

export function SignInPage() {
  const navigate = useNavigate();
  const cache = useQueryClient();
  const from = (useLocation().state as { from?: string } | null)?.from ?? "/";
  const [problem, setProblem] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);

  async function signIn(event: FormEvent<HTMLFormElement>) {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    setBusy(true);
    setProblem(null);
    try {
      const person = await api.signIn(String(form.get("name")), String(form.get("password")));
      cache.clear();
      cache.setQueryData(["who"], person);
      navigate(from, { replace: true });
    } catch (error) {
      setProblem((error as Error).message);
      setBusy(false);
    }
  }

  return (
    <DoorPage title="Sign in" text="Move, rotate and scale with intent, and see how close you are.">
      <form onSubmit={signIn} className="space-y-4 cramped:space-y-2">
        <FormField label="Username" name="name" autoComplete="username" />
        <FormField label="Password" name="password" type="password" autoComplete="current-password" />
        <p role="alert" className="min-h-5 text-fail">
          {problem}
        </p>
        <Button type="submit" look="main" disabled={busy} className="h-10 w-full">
          {busy ? "Signing in…" : "Sign in"}
        </Button>
      </form>
      <p className="mt-4 text-ink-soft cramped:mt-2">
        Do you have a join code?{" "}
        <Link to="/join" className="text-plum underline">
          Join a class
        </Link>
      </p>
    </DoorPage>
  );
}
