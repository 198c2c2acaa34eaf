// The way from the start page to this one. Each step is a link; the last one is the page itself.
import { Fragment } from "react";
import { Link } from "react-router";

export type Crumb = { to: string; text: string };

type InClass = { class_id: number; class_name: string };

export function classTrail({ class_id, class_name }: InClass): Crumb[] {
  return [{ to: `/classes/${class_id}`, text: class_name }];
}

export function assignmentTrail(page: InClass & { assignment: number; title: string }): Crumb[] {
  return [...classTrail(page), { to: `/assignments/${page.assignment}`, text: page.title }];
}

export function Crumbs({ trail, title }: { trail: readonly Crumb[]; title: string }) {
  return (
    <nav aria-label="Breadcrumbs" className="flex min-w-24 flex-1 items-center gap-2 overflow-hidden">
      {trail.map(({ to, text }) => (
        <Fragment key={to}>
          <Link
            to={to}
            title={text}
            className="max-w-60 min-w-8 shrink truncate rounded-sm text-ink-soft underline-offset-2 hover:text-plum hover:underline"
          >
            {text}
          </Link>
          <span aria-hidden className="text-edge">
            /
          </span>
        </Fragment>
      ))}
      <h1 aria-current="page" title={title} className="min-w-16 flex-1 truncate">
        {title}
      </h1>
    </nav>
  );
}
