import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { Tooltip } from "radix-ui";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { createBrowserRouter, RouterProvider } from "react-router";
import { Problem } from "./api/client";
import { Submissions } from "./marks/Submissions";
import { Home } from "./news/Home";
import { JoinPage } from "./people/JoinPage";
import { SignedIn } from "./people/SignedIn";
import { SignInPage } from "./people/SignInPage";
import { Broken, NotFound } from "./ui/NotFound";
import "./index.css";
import { Waiting } from "./ui/parts";
import { applyTheme, useTheme } from "./ui/theme";

const waiting = { HydrateFallback: () => <Waiting what="One moment…" /> };

// Screens that draw in 3D come when they are opened.
const router = createBrowserRouter([
  {
    ErrorBoundary: Broken,
    children: [
      { path: "/sign-in", Component: SignInPage },
      { path: "/join", Component: JoinPage },
      {
        Component: SignedIn,
        children: [
          { path: "/", Component: Home },
          { path: "/account", lazy: () => import("./people/AccountPage"), ...waiting },
          { path: "/assignments/:assignment", Component: Submissions },
          {
            path: "/assignments/:assignment/mistakes",
            lazy: () => import("./marks/MistakesPage"),
            ...waiting,
          },
          {
            path: "/assignments/:assignment/settings",
            lazy: () => import("./assignments/SettingsPage"),
            ...waiting,
          },
          { path: "/assignments/:assignment/recheck", lazy: () => import("./marks/RecheckPage"), ...waiting },
          { path: "/classes/:class", lazy: () => import("./marks/BoardPage"), ...waiting },
          { path: "/classes/:class/copy", lazy: () => import("./assignments/CopyPage"), ...waiting },
          { path: "/classes/:class/people", lazy: () => import("./people/PeoplePage"), ...waiting },
          { path: "/classes/:class/activity", lazy: () => import("./people/ActivityPage"), ...waiting },
          {
            path: "/classes/:class/students/:person",
            lazy: () => import("./people/StudentPage"),
            ...waiting,
          },
          { path: "/sheet/:assignment", lazy: () => import("./work/SheetPage"), ...waiting },
          { path: "/file/:assignment/:file", lazy: () => import("./work/FilePage"), ...waiting },
          { path: "/bench/:assignment", lazy: () => import("./work/BenchPage"), ...waiting },
          { path: "/result/:submission", lazy: () => import("./marks/ResultPage"), ...waiting },
          { path: "/help/:page", lazy: () => import("./help/HelpPage"), ...waiting },
          { path: "/workshop", lazy: () => import("./plans/LibraryPage"), ...waiting },
          { path: "/workshop/:plan/:stage?", lazy: () => import("./plans/PlanPage"), ...waiting },
        ],
      },
      { path: "*", Component: NotFound },
    ],
  },
]);

const queries = new QueryClient({
  defaultOptions: {
    // A refusal stays a refusal; only a silent server is worth asking again.
    queries: {
      retry: (count, error) => !(error instanceof Problem) && count < 3,
      refetchOnWindowFocus: false,
      networkMode: "always", // the server may be this machine, whatever the browser thinks of the network
    },
  },
});

applyTheme(useTheme.getState().theme);
createRoot(document.getElementById("root")!).render(
  <StrictMode>
    <QueryClientProvider client={queries}>
      <Tooltip.Provider delayDuration={400}>
        <RouterProvider router={router} />
      </Tooltip.Provider>
    </QueryClientProvider>
  </StrictMode>,
);
