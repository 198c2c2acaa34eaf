import { useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useEffect, useState } from "react";
import { useLocation, useNavigate } from "react-router";
import { api } from "../api/client";
import mark from "../ui/mark.svg";
import { Button } from "../ui/parts";
import { ThemeButton } from "../ui/Shell";

export function SignInPage() {
  const navigate = useNavigate();
  const cache = useQueryClient();
  const from = (useLocation().state as { from?: string } | null)?.from ?? "/";
  const [problem, setProblem] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  useEffect(() => {
    document.title = "Sign in · Cube Drill";
  }, []);

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
    <main className="relative grid min-h-full place-items-center p-6 cramped:py-2">
      <div className="absolute top-2 right-4">
        <ThemeButton />
      </div>
      <div className="w-full max-w-sm">
        <img src={mark} alt="" className="mb-4 size-12 rounded-md cramped:hidden bg-[#fffdf8]" />
        <h1 className="text-lg font-semibold">Cube Drill</h1>
        <p className="mb-6 text-ink-soft cramped:mb-3">
          Move, rotate and scale by intent, and see how close you came.
        </p>
        <form
          onSubmit={signIn}
          className="space-y-4 border-t border-hairline pt-6 cramped:space-y-2 cramped:pt-3"
        >
          <Field label="Name" name="name" autoComplete="username" />
          <Field label="Password" name="password" type="password" autoComplete="current-password" />
          <p role="alert" className="min-h-5 text-fail">
            {problem}
          </p>
          <Button type="submit" look="main" disabled={busy} className="h-10 w-full">
            {busy ? "Signing in…" : "Sign in"}
          </Button>
        </form>
      </div>
    </main>
  );
}

type FieldProps = { label: string; name: string; type?: string; autoComplete: string };

function Field({ label, ...input }: FieldProps) {
  return (
    <label className="block">
      <span className="mb-1 block font-semibold">{label}</span>
      <input {...input} required className="h-10 w-full rounded-md border border-edge bg-sheet px-3" />
    </label>
  );
}
