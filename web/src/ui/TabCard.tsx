// A card with a few tabs; what is in one scrolls on its own.
import { Tabs } from "radix-ui";
import type { ReactNode } from "react";
import { nth } from "./lists";

export type Tab = { name: string; body: ReactNode };
type Props = { label: string; tabs: readonly Tab[]; className?: string };

export function TabCard({ label, tabs, className = "" }: Props) {
  return (
    <Tabs.Root defaultValue={nth(tabs, 0).name} asChild>
      <section aria-label={label} className={`flex flex-col ${className}`}>
        <Tabs.List aria-label={label} className="flex shrink-0 gap-4 border-b border-hairline px-4">
          {tabs.map(({ name }) => (
            <Tabs.Trigger
              key={name}
              value={name}
              className="-mb-px border-b-2 border-transparent py-1.5 text-sm font-semibold text-ink-soft hover:text-ink data-[state=active]:border-plum data-[state=active]:text-plum"
            >
              {name}
            </Tabs.Trigger>
          ))}
        </Tabs.List>
        {tabs.map(({ name, body }) => (
          <Tabs.Content
            key={name}
            value={name}
            className="flex min-h-0 flex-1 flex-col overflow-y-auto scroll-shade px-4 py-2.5"
          >
            {body}
          </Tabs.Content>
        ))}
      </section>
    </Tabs.Root>
  );
}
