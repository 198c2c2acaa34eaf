// A password changed, or chosen at the first sign-in.
import { useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { api } from "../api/client";
import { Button } from "../ui/parts";
import { FormField } from "./FormField";

type Props = { done: string; old?: string; onDone: () => void };

/** old: the password that one has, where it was typed a moment ago. */
export function PasswordForm({ done, old, onDone }: Props) {
  const cache = useQueryClient();
  const [problem, setProblem] = useState<string | null>(null);
  async function change(event: FormEvent<HTMLFormElement>) {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    const [next, again] = [String(form.get("new")), String(form.get("again"))];
    if (next !== again) return setProblem("The two passwords differ. Type the new password twice.");
    try {
      await api.changePassword(old ?? String(form.get("old")), next);
      await cache.invalidateQueries({ queryKey: ["who"] });
      onDone();
    } catch (error) {
      setProblem((error as Error).message);
    }
  }
  return (
    <form onSubmit={change} className="max-w-sm space-y-3">
      {old === undefined && (
        <FormField label="Current password" name="old" type="password" autoComplete="current-password" />
      )}
      <FormField
        label="New password (10 characters or more)"
        name="new"
        type="password"
        autoComplete="new-password"
      />
      <FormField label="New password again" name="again" type="password" autoComplete="new-password" />
      <p role="alert" className="min-h-5 text-fail">
        {problem}
      </p>
      <Button type="submit" look="main" className="h-10">
        {done}
      </Button>
    </form>
  );
}
