import { ChakraProvider } from "@chakra-ui/react";
import { MutationCache, QueryCache, QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { createBrowserRouter } from "react-router";
import { RouterProvider } from "react-router/dom";
import { isAway, ProblemError } from "../api/client";
import { startOutbox } from "../api/outbox";
import { sessionQuery } from "../api/queries";
import { FloorPage } from "../features/floor/FloorPage";
import { RouteProblem } from "./RouteProblem";
import { Frame, Shell } from "./Shell";
import { system } from "./theme";

/** Whatever is refused for want of a sign-in asks again who is here: the page locks. */
function locks(error: unknown) {
  if (error instanceof ProblemError && error.problem.type === "urn:inner-compass:problem:not-signed-in")
    void client.invalidateQueries({ queryKey: sessionQuery.queryKey });
}

const client = new QueryClient({
  queryCache: new QueryCache({ onError: locks }),
  mutationCache: new MutationCache({ onError: locks }),
  defaultOptions: {
    // The app is on this machine or in this shop: whether the internet is there says nothing about it.
    queries: { networkMode: "always", staleTime: 5000, retry: (n, e) => isAway(e) && n < 3, retryDelay: (n) => 400 * 2 ** n },
    mutations: { networkMode: "always", retry: (n, e) => isAway(e) && n < 20, retryDelay: (n) => Math.min(5000, 300 * 2 ** n) },
  },
});

startOutbox(client);

const router = createBrowserRouter([
  {
    path: "/",
    Component: Shell,
    ErrorBoundary: RouteProblem,
    HydrateFallback: () => <Frame />,
    children: [
      { index: true, Component: FloorPage },
      { path: "take-in", lazy: async () => ({ Component: (await import("../features/floor/TakeInPage")).TakeInPage }) },
      { path: "cases/:id/sheet", lazy: async () => ({ Component: (await import("../features/case/BaySheet")).BaySheet }) },
      { path: "cases/:id/job", lazy: async () => ({ Component: (await import("../features/case/job/JobPage")).JobPage }) },
      { path: "week", lazy: async () => ({ Component: (await import("../features/week/WeekPage")).WeekPage }) },
      { path: "cases/:id/:stage?", lazy: async () => ({ Component: (await import("../features/case/CasePage")).CasePage }) },
      { path: "units", lazy: async () => ({ Component: (await import("../features/unit/UnitsPage")).UnitsPage }) },
      { path: "units/new", lazy: async () => ({ Component: (await import("../features/unit/SheetPage")).SheetPage }) },
      { path: "units/build", lazy: async () => ({ Component: (await import("../features/build/StartPage")).StartPage }) },
      { path: "units/build/:id", lazy: async () => ({ Component: (await import("../features/build/BuildPage")).BuildPage }) },
      { path: "units/:id/:part?", lazy: async () => ({ Component: (await import("../features/unit/UnitPage")).UnitPage }) },
      {
        path: "instruments",
        lazy: async () => ({ Component: (await import("../features/instruments/InstrumentsPage")).InstrumentsPage }),
      },
      {
        path: "instruments/:id",
        lazy: async () => ({ Component: (await import("../features/instruments/InstrumentPage")).InstrumentPage }),
      },
      {
        path: "recordings",
        lazy: async () => ({ Component: (await import("../features/recordings/RecordingsPage")).RecordingsPage }),
      },
      {
        path: "live",
        lazy: async () => ({ Component: (await import("../features/live/LivePage")).LivePage }),
      },
      {
        path: "recordings/new",
        lazy: async () => ({ Component: (await import("../features/recordings/RecordPage")).RecordPage }),
      },
      {
        path: "recordings/:id",
        lazy: async () => ({ Component: (await import("../features/recordings/TracesPage")).TracesPage }),
      },
      {
        path: "recordings/:id/shifts",
        lazy: async () => ({ Component: (await import("../features/shifts/ShiftsPage")).ShiftsPage }),
      },
      {
        path: "recordings/:id/turns",
        lazy: async () => ({ Component: (await import("../features/recordings/TurnsPage")).TurnsPage }),
      },
      {
        path: "knowledge/:unit?/:kind?/:entry?",
        lazy: async () => ({ Component: (await import("../features/knowledge/KnowledgePage")).KnowledgePage }),
      },
      { path: "prices", lazy: async () => ({ Component: (await import("../features/settings/PricesPage")).PricesPage }) },
      { path: "people", lazy: async () => ({ Component: (await import("../features/people/PeoplePage")).PeoplePage }) },
      { path: "trail", lazy: async () => ({ Component: (await import("../features/people/TrailPage")).TrailPage }) },
      { path: "backup", lazy: async () => ({ Component: (await import("../features/backup/BackupPage")).BackupPage }) },
      { path: "privacy", lazy: async () => ({ Component: (await import("../features/backup/PrivacyPage")).PrivacyPage }) },
      { path: "verify", lazy: async () => ({ Component: (await import("../features/settings/VerifyPage")).VerifyPage }) },
      { path: "settings", lazy: async () => ({ Component: (await import("../features/settings/SettingsPage")).SettingsPage }) },
      { path: "*", Component: RouteProblem },
    ],
  },
]);

export function App() {
  return (
    <ChakraProvider value={system}>
      <QueryClientProvider client={client}>
        <RouterProvider router={router} />
      </QueryClientProvider>
    </ChakraProvider>
  );
}
