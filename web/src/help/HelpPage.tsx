// The user guide in the application: a page, its contents and a search.
import { useState } from "react";
import Markdown from "react-markdown";
import { NavLink, useParams } from "react-router";
import { NotFound } from "../ui/NotFound";
import { SearchField } from "../ui/SearchField";
import { Shell } from "../ui/Shell";
import { GUIDE, pictureAt, search } from "./guide";

export function Component() {
  const { page: name } = useParams();
  const page = GUIDE.find((each) => each.name === name);
  const [query, setQuery] = useState("");
  const found = search(query);
  if (!page) return <NotFound />;
  return (
    <Shell title={page.title} trail={[{ to: "/help/bench", text: "Help" }]}>
      <div className="flex min-h-0 flex-1 cramped:flex-col cramped:overflow-y-auto">
        <nav
          aria-label="Guide"
          className="w-72 shrink-0 space-y-3 border-r border-hairline p-4 cramped:w-full"
        >
          <SearchField label="Search the guide" value={query} onChange={setQuery} className="w-full" />
          <ul className="space-y-1">
            {GUIDE.map((each) => (
              <li key={each.name}>
                <NavLink
                  to={`/help/${each.name}`}
                  onClick={() => setQuery("")}
                  className={({ isActive }) =>
                    `block rounded-md px-2 py-1 ${isActive ? "bg-plum-soft font-semibold text-plum" : "hover:bg-well"}`
                  }
                >
                  {each.title}
                </NavLink>
              </li>
            ))}
          </ul>
        </nav>
        {/* biome-ignore lint/a11y/noNoninteractiveTabindex: a scrolling area is reached by keyboard */}
        <main tabIndex={0} className="min-w-0 flex-1 overflow-y-auto px-8 py-6 cramped:overflow-visible">
          {query.trim() ? (
            <ul aria-label="Search results" className="max-w-3xl space-y-2">
              {found.map(({ page: { name, title }, heading, line }) => (
                <li key={`${name} ${heading} ${line}`}>
                  <NavLink to={`/help/${name}`} onClick={() => setQuery("")} className="text-plum underline">
                    {title}: {heading}
                  </NavLink>
                  <p>{line}</p>
                </li>
              ))}
              {found.length === 0 && <li>Nothing found for “{query.trim()}”.</li>}
            </ul>
          ) : (
            <article className="guide max-w-3xl">
              <Markdown urlTransform={(link) => (link.endsWith(".png") ? pictureAt(link) : link)}>
                {page.text}
              </Markdown>
            </article>
          )}
        </main>
      </div>
    </Shell>
  );
}
