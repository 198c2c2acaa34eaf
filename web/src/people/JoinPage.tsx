// Coming into a class by its code, as somebody new.
import { useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { Link, useNavigate } from "react-router";
import { api } from "../api/client";
import { Button } from "../ui/parts";
import { DoorPage } from "./DoorPage";
import { FormField } from "./FormField";

export function JoinPage() {
  const navigate = useNavigate();
  const cache = useQueryClient();
  const [problem, setProblem] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  async function join(event: FormEvent<HTMLFormElement>) {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    const said = (name: string) => String(form.get(name));
    setBusy(true);
    setProblem(null);
    try {
      const person = await api.joinAsNew({
        code: said("code"),
        name: said("name"),
        sign_in: said("sign_in"),
        password: said("password"),
      });
      cache.clear();
      cache.setQueryData(["who"], person);
      navigate("/", { replace: true });
    } catch (error) {
      setProblem((error as Error).message);
      setBusy(false);
    }
  }
  return (
    <DoorPage title="Join a class" text="Use the code that your instructor shows you.">
      <form onSubmit={join} className="space-y-4 cramped:space-y-2">
        <FormField label="Code" name="code" autoComplete="off" />
        <FormField label="Your name" name="name" autoComplete="name" />
        <FormField
          label="Username"
          name="sign_in"
          autoComplete="username"
          hint="Letters a to z, digits and . _ - (no spaces)."
        />
        <FormField
          label="Password (10 characters or more)"
          name="password"
          type="password"
          autoComplete="new-password"
        />
        <p role="alert" className="min-h-5 text-fail">
          {problem}
        </p>
        <Button type="submit" look="main" disabled={busy} className="h-10 w-full">
          {busy ? "Joining…" : "Join class"}
        </Button>
      </form>
      <p className="mt-4 text-ink-soft">
        Do you already have an account?{" "}
        <Link to="/sign-in" className="text-plum underline">
          Sign in
        </Link>
        , then enter the code on your account page.
      </p>
    </DoorPage>
  );
}
