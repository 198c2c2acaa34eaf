// A page before one is in: the sign, what the product is, and a form.
import { type ReactNode, useEffect } from "react";
import mark from "../ui/mark.svg";
import { ThemeButton } from "../ui/Shell";

type Props = { title: string; text: string; children: ReactNode };

export function DoorPage({ title, text, children }: Props) {
  useEffect(() => {
    document.title = `${title} · Cube Drill`;
  }, [title]);
  return (
    <main className="relative grid min-h-full place-items-center p-6 cramped:py-2">
      <div className="absolute top-2 right-4">
        <ThemeButton />
      </div>
      <div className="w-full max-w-sm">
        <img src={mark} alt="" className="mb-4 size-12 rounded-md cramped:hidden dark:bg-[#fffdf8]" />
        <h1 className="text-lg font-semibold">{title === "Sign in" ? "Cube Drill" : title}</h1>
        <p className="mb-6 text-ink-soft cramped:mb-3">{text}</p>
        <div className="border-t border-hairline pt-6 cramped:pt-3">{children}</div>
      </div>
    </main>
  );
}
