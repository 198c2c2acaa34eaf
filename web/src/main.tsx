import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { Tooltip } from "radix-ui";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { createBrowserRouter, RouterProvider } from "react-router";
import { JoinPage } from "./account/JoinPage";
import { SignedIn } from "./account/SignedIn";
import { Problem } from "./api/client";
import { Submissions } from "./board/Submissions";
import { Home } from "./home/Home";
import { SignInPage } from "./home/SignInPage";
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
          { path: "/account", lazy: () => import("./account/AccountPage"), ...waiting },
          { path: "/set/:assignment", Component: Submissions },
          { path: "/set/:assignment/insight", lazy: () => import("./board/InsightPage"), ...waiting },
          { path: "/set/:assignment/setting", lazy: () => import("./board/SettingPage"), ...waiting },
          { path: "/set/:assignment/again", lazy: () => import("./board/AgainPage"), ...waiting },
          { path: "/classes/:class", lazy: () => import("./classes/BoardPage"), ...waiting },
          { path: "/classes/:class/people", lazy: () => import("./classes/PeoplePage"), ...waiting },
          { path: "/classes/:class/done", lazy: () => import("./classes/DonePage"), ...waiting },
          {
            path: "/classes/:class/students/:person",
            lazy: () => import("./classes/StudentPage"),
            ...waiting,
          },
          { path: "/sheet/:assignment", lazy: () => import("./sheet/SheetPage"), ...waiting },
          { path: "/file/:assignment/:file", lazy: () => import("./files/FilePage"), ...waiting },
          { path: "/bench/:assignment", lazy: () => import("./bench/BenchPage"), ...waiting },
          { path: "/result/:submission", lazy: () => import("./result/ResultPage"), ...waiting },
          { path: "/workshop", lazy: () => import("./workshop/LibraryPage"), ...waiting },
          { path: "/workshop/:plan/:stage?", lazy: () => import("./workshop/PlanPage"), ...waiting },
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
