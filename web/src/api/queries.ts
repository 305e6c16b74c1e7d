import { infiniteQueryOptions, keepPreviousData, queryOptions, replaceEqualDeep } from "@tanstack/react-query";
import { wholeCase } from "./caseParts";
import { answer, api, type Case, type Schemas } from "./client";

/** The Floor, page by page: open cases, or closed ones, in which every word of the search occurs. */
export const floorQuery = (closed: boolean, q: string) =>
  infiniteQueryOptions({
    queryKey: ["cases", closed, q],
    queryFn: ({ pageParam, signal }) =>
      answer(api.GET("/cases", { params: { query: { closed, q, after: pageParam || undefined } }, signal })),
    initialPageParam: "",
    getNextPageParam: (last) => last.next || undefined,
    placeholderData: keepPreviousData,
  });

/** The open cases that an instrument may be used for. */
export const openCasesQuery = queryOptions({
  queryKey: ["cases", "open"],
  queryFn: ({ signal }) => answer(api.GET("/cases", { signal, params: { query: { limit: 200 } } })),
});

/** How a typed number is read. */
export const numberQuery = (kind: string, unit: string, text: string, numbers?: string) =>
  queryOptions({
    queryKey: ["number", kind, unit, text, numbers],
    queryFn: ({ signal }) => answer(api.POST("/numbers", { body: { text, kind, unit, numbers }, signal })),
    enabled: text.trim() !== "",
    retry: false,
    staleTime: 60_000,
  });

/** What the app rests on, and which version it is. */
export const healthQuery = queryOptions({
  queryKey: ["health"],
  queryFn: ({ signal }) => answer(api.GET("/health", { signal })),
  staleTime: 60_000,
});

/** How backups stand. */
/** Backups and the reserve; a reserve is looked at again and again, since nothing tells when it stops. */
export const backupQuery = queryOptions({
  queryKey: ["backup"],
  queryFn: ({ signal }) => answer(api.GET("/backup", { signal })),
  refetchInterval: (query) => (query.state.data?.reserve ? 15_000 : false),
});

/** The public keys of the shop, the one in use first. */
export const shopKeyQuery = queryOptions({ queryKey: ["shop-key"], queryFn: ({ signal }) => answer(api.GET("/shop-key", { signal })) });

/** Who is signed in here, and what may be done. */
export const sessionQuery = queryOptions({
  queryKey: ["session"],
  queryFn: ({ signal }) => answer(api.GET("/session", { signal })),
  staleTime: 60_000,
  // A page that asks who is here asks again: a sign-in in another tab, or one whose answer was overtaken, opens it.
  refetchInterval: (q) => (q.state.data?.needed && !q.state.data.person ? 3000 : false),
});

export const settingsQuery = queryOptions({ queryKey: ["settings"], queryFn: () => answer(api.GET("/settings")) });
export const unitsQuery = queryOptions({ queryKey: ["units"], queryFn: () => answer(api.GET("/units")), staleTime: Infinity });

/** A unit in one version of its sheet; 0 is the newest. */
export const unitQuery = (id: string, version = 0) =>
  queryOptions({
    queryKey: ["unit", id, version],
    queryFn: ({ signal }) => answer(api.GET("/units/{id}", { signal, params: { path: { id }, query: { version } } })),
  });

/** Every part of a unit with its place; absent for a sheet without a stack. */
export const stackQuery = (id: string, version = 0) =>
  queryOptions({
    queryKey: ["stack", id, version],
    queryFn: ({ signal }) => answer(api.GET("/units/{id}/stack", { signal, params: { path: { id }, query: { version } } })),
    staleTime: Infinity,
    retry: false,
  });

/** How far the unit of a case is taken apart, as of a revision of the case. */
export const benchQuery = (id: string, rev: number) =>
  queryOptions({
    queryKey: ["bench", id, rev],
    queryFn: ({ signal }) => answer(api.GET("/cases/{id}/bench", { signal, params: { path: { id } } })),
    placeholderData: keepPreviousData,
    retry: false,
  });

/** How far the unit of a case is built again, as of a revision of the case. */
export const buildQuery = (id: string, rev: number) =>
  queryOptions({
    queryKey: ["build", id, rev],
    queryFn: ({ signal }) => answer(api.GET("/cases/{id}/build", { signal, params: { path: { id } } })),
    placeholderData: keepPreviousData,
  });

/** The work of a case as of a revision of it: of an option, or of what was agreed or planned when that is empty. */
export const jobQuery = (id: string, rev: number, option: string) =>
  queryOptions({
    queryKey: ["job", id, rev, option],
    queryFn: ({ signal }) =>
      answer(api.GET("/cases/{id}/job", { signal, params: { path: { id }, query: { option: option || undefined } } })),
    placeholderData: keepPreviousData,
  });

/** All open jobs over the bays and people of the shop. */
export const weekQuery = queryOptions({ queryKey: ["week"], queryFn: ({ signal }) => answer(api.GET("/week", { signal })) });

export const workshopQuery = queryOptions({ queryKey: ["workshop"], queryFn: ({ signal }) => answer(api.GET("/workshop", { signal })) });

/** Why what was found damaged burned, as of a revision of the case. */
export const whyQuery = (id: string, rev: number) =>
  queryOptions({
    queryKey: ["why", id, rev],
    queryFn: ({ signal }) => answer(api.GET("/cases/{id}/why", { signal, params: { path: { id } } })),
    placeholderData: keepPreviousData,
  });

export interface Running {
  range: string;
  speed: string;
  load: number;
  slip: number;
}

export const powerQuery = (id: string, version: number, running: Running) =>
  queryOptions({
    queryKey: ["power", id, version, running],
    queryFn: ({ signal }) => answer(api.GET("/units/{id}/power", { signal, params: { path: { id }, query: { version, ...running } } })),
    placeholderData: (old) => old,
    enabled: running.range !== "",
  });

export const compareQuery = (id: string, version: number, a: string, b: string) =>
  queryOptions({
    queryKey: ["compare", id, version, a, b],
    queryFn: ({ signal }) => answer(api.GET("/units/{id}/comparison", { signal, params: { path: { id }, query: { version, a, b } } })),
    placeholderData: (old) => old,
    enabled: a !== "" && b !== "",
  });

export const gearQuery = (id: string, version: number, seen: { in: string; out: string }) =>
  queryOptions({
    queryKey: ["gear", id, version, seen],
    queryFn: ({ signal }) => answer(api.GET("/units/{id}/gear", { signal, params: { path: { id }, query: { version, ...seen } } })),
    enabled: seen.in.trim() !== "" && seen.out.trim() !== "",
    retry: false,
  });

export const sheetCheckQuery = (text: string) =>
  queryOptions({
    queryKey: ["sheet-check", text],
    queryFn: ({ signal }) => answer(api.POST("/sheet-checks", { signal, body: { text } })),
    placeholderData: (old) => old,
    enabled: text !== "",
    staleTime: Infinity,
  });

export const caseQuery = (id: string) =>
  queryOptions({
    queryKey: ["case", id],
    queryFn: async ({ signal }) => wholeCase(await answer(api.GET("/cases/{id}", { params: { path: { id } }, signal }))),
    // Of two answers the newer counts, whichever comes last.
    structuralSharing: (old, now) => {
      const before = old as Case | undefined;
      return before && before.rev > (now as Case).rev ? before : replaceEqualDeep(before, now as Case);
    },
  });

export const findingsQuery = (id: string, stage: "complaint" | "checks" | "teardown", rev: number) =>
  queryOptions({
    queryKey: ["findings", id, stage, rev],
    queryFn: ({ signal }) => answer(api.GET("/cases/{id}/findings", { signal, params: { path: { id }, query: { stage } } })),
    placeholderData: (old) => old,
  });

export const checksQuery = (id: string, rev: number) =>
  queryOptions({
    queryKey: ["checks", id, rev],
    queryFn: ({ signal }) => answer(api.GET("/cases/{id}/checks", { signal, params: { path: { id } } })),
    placeholderData: (old) => old,
  });

export const checkQuery = (id: string, check: string, rev: number) =>
  queryOptions({
    queryKey: ["check", id, check, rev],
    queryFn: ({ signal }) => answer(api.GET("/cases/{id}/checks/{check}", { signal, params: { path: { id, check } } })),
    placeholderData: (old) => (old?.id === check ? old : undefined),
  });

/** The options with what is set by hand; in full, with what would turn their order. */
export const optionsQuery = (id: string, rev: number, choices: Schemas["Choices"]) =>
  queryOptions({
    queryKey: ["options", id, rev, choices],
    queryFn: ({ signal }) => answer(api.POST("/cases/{id}/options", { signal, params: { path: { id } }, body: choices })),
    placeholderData: (old) => old,
    retry: false,
  });

export const pricesQuery = queryOptions({ queryKey: ["prices"], queryFn: () => answer(api.GET("/prices")) });

export const priceItemsQuery = (unit: string) =>
  queryOptions({
    queryKey: ["price-items", unit],
    queryFn: ({ signal }) => answer(api.GET("/units/{id}/price-items", { signal, params: { path: { id: unit } } })),
    staleTime: Infinity,
    enabled: unit !== "",
  });

export const approvalQuery = (token: string, rev = 0) =>
  queryOptions({
    queryKey: ["approval", token, rev],
    queryFn: ({ signal }) => answer(api.GET("/approvals/{token}", { signal, params: { path: { token } } })),
    retry: false,
  });

export const visitsQuery = (vehicle: string, customer: string) =>
  queryOptions({
    queryKey: ["visits", vehicle, customer],
    queryFn: ({ signal }) => answer(api.GET("/visits", { signal, params: { query: { vehicle, customer } } })),
    enabled: vehicle.trim() !== "",
    placeholderData: (old) => old,
  });

/** What the readings mean, with exact probabilities, however long they take. */
export const rankingQuery = (id: string, rev: number, trail: number) =>
  queryOptions({
    queryKey: ["ranking", id, rev, trail],
    queryFn: ({ signal }) => answer(api.GET("/cases/{id}/ranking", { params: { path: { id } }, signal })),
    staleTime: Infinity,
  });

export const explanationQuery = (id: string, cause: string, rev: string) =>
  queryOptions({
    queryKey: ["explanation", id, cause, rev],
    queryFn: ({ signal }) => answer(api.GET("/cases/{id}/suspects/{cause}", { signal, params: { path: { id, cause } } })),
    placeholderData: (old) => (old?.id === cause ? old : undefined),
  });

export const whatIfQuery = (id: string, reading: string, rev: number) =>
  queryOptions({
    queryKey: ["what-if", id, reading, rev],
    queryFn: ({ signal }) => answer(api.GET("/cases/{id}/what-if", { signal, params: { path: { id }, query: { reading } } })),
  });

/** The vehicles that were here last. */
export const vehiclesQuery = queryOptions({ queryKey: ["cases", "vehicles"], queryFn: () => answer(api.GET("/vehicles")) });

/** What a customer's words say, before there is a case. */
export const readWordsQuery = (unit: string, text: string) =>
  queryOptions({
    queryKey: ["words", unit, text],
    queryFn: ({ signal }) => answer(api.GET("/words", { signal, params: { query: { unit: unit || undefined, text } } })),
    placeholderData: (old) => old,
    staleTime: Infinity,
  });

/** The words of a case as they are taken and struck; they follow its revision. */
export const wordsQuery = (id: string, rev: number) =>
  queryOptions({
    queryKey: ["case-words", id, rev],
    queryFn: ({ signal }) => answer(api.GET("/cases/{id}/words", { signal, params: { path: { id } } })),
    placeholderData: (old) => old,
  });

/** The plan of a case; with a result that nobody has read yet, as if it were there. */
export const planQuery = (id: string, from: string, as?: { finding: string; state: string }) =>
  queryOptions({
    queryKey: ["plan", id, from, as],
    queryFn: ({ signal }) => answer(api.GET("/cases/{id}/plan", { signal, params: { path: { id }, query: as ?? {} } })),
    placeholderData: (old) => old,
  });

export const ownWordsQuery = queryOptions({
  queryKey: ["words", "own"],
  queryFn: ({ signal }) => answer(api.GET("/own-words", { signal })),
});

/** Anything in the shop by the words of the trade; of one kind, or of all. */
export const findQuery = (q: string, caseId: string, kind: string) =>
  queryOptions({
    queryKey: ["find", q, caseId, kind],
    queryFn: ({ signal }) => answer(api.GET("/find", { signal, params: { query: { q, case: caseId, kind } } })),
    enabled: q !== "",
    placeholderData: (old) => old,
  });

export const movesQuery = (id: string, rev: number) =>
  queryOptions({
    queryKey: ["moves", id, rev],
    queryFn: ({ signal }) => answer(api.GET("/cases/{id}/moves", { signal, params: { path: { id } } })),
    placeholderData: (old) => old,
  });

/** What was called out during a road test, as cells; a text is read once. */
export const calledQuery = (id: string, text: string, at: string) =>
  queryOptions({
    queryKey: ["called", id, text, at],
    queryFn: ({ signal }) => answer(api.GET("/cases/{id}/called", { signal, params: { path: { id }, query: { text, at } } })),
    enabled: text !== "",
    staleTime: Infinity,
    placeholderData: (old) => old,
  });

export const interviewQuery = (id: string, rev: number) =>
  queryOptions({
    queryKey: ["interview", id, rev],
    queryFn: ({ signal }) => answer(api.GET("/cases/{id}/interview", { signal, params: { path: { id } } })),
    placeholderData: (old) => old,
  });

export const knowledgeQuery = (unit: string, q: string, kind: string) =>
  queryOptions({
    queryKey: ["knowledge", unit, q, kind],
    queryFn: ({ signal }) => answer(api.GET("/units/{id}/knowledge", { signal, params: { path: { id: unit }, query: { q, kind } } })),
    placeholderData: (old) => old,
    staleTime: Infinity,
  });

export const wordlessQuery = queryOptions({
  queryKey: ["wordless"],
  queryFn: ({ signal }) => answer(api.GET("/wordless", { signal })),
});

export const entryQuery = (unit: string, kind: string, entry: string) =>
  queryOptions({
    queryKey: ["entry", unit, kind, entry],
    queryFn: ({ signal }) =>
      answer(api.GET("/units/{id}/knowledge/{kind}/{entry}", { signal, params: { path: { id: unit, kind, entry } } })),
    staleTime: Infinity,
  });

export const instrumentsQuery = queryOptions({
  queryKey: ["instruments"],
  queryFn: () => answer(api.GET("/instruments")),
  staleTime: Infinity,
});

/** What an instrument is used on: a part, of a unit or of a case. */
export interface UsedOn {
  part?: string;
  unit?: string;
  case?: string;
}

export const instrumentQuery = (id: string, on: UsedOn, rev: number) =>
  queryOptions({
    queryKey: ["instrument", id, on, rev],
    queryFn: ({ signal }) => answer(api.GET("/instruments/{id}", { signal, params: { path: { id }, query: on } })),
    placeholderData: (old) => old,
    retry: false,
  });

export const measurementsQuery = (id: string, rev: number) =>
  queryOptions({
    queryKey: ["case", id, "measurements", rev],
    queryFn: ({ signal }) => answer(api.GET("/cases/{id}/measurements", { signal, params: { path: { id } } })),
    placeholderData: (old) => old,
  });

export const gaugesQuery = queryOptions({ queryKey: ["settings", "gauges"], queryFn: () => answer(api.GET("/gauges")) });

export const schemesQuery = queryOptions({
  queryKey: ["schemes"],
  queryFn: ({ signal }) => answer(api.GET("/schemes", { signal })),
  staleTime: Infinity,
});

/** Units that are being built. */
export const draftsQuery = queryOptions({
  queryKey: ["drafts"],
  queryFn: ({ signal }) => answer(api.GET("/drafts", { signal })),
});

/** Every number of a unit's sheet, with where it is from. */
export const numbersQuery = (id: string, version: number) =>
  queryOptions({
    queryKey: ["numbers", id, version],
    queryFn: ({ signal }) => answer(api.GET("/units/{id}/numbers", { signal, params: { path: { id }, query: { version } } })),
  });

/** A unit that is being built, with what it comes to. */
export const draftQuery = (id: string) =>
  queryOptions({
    queryKey: ["draft", id],
    queryFn: ({ signal }) => answer(api.GET("/drafts/{id}", { signal, params: { path: { id } } })),
    staleTime: Infinity, // it changes here, and what it comes to arrives with each change
  });

/** Schemes of gears that the chart and the ratios of a draft fit. */
export const proposalsQuery = (id: string, revision: number) =>
  queryOptions({
    queryKey: ["draft", id, "schemes", revision],
    queryFn: ({ signal }) => answer(api.GET("/drafts/{id}/schemes", { signal, params: { path: { id } } })),
  });

/** What a case would keep on another unit. */
export const moveQuery = (id: string, unit: string) =>
  queryOptions({
    queryKey: ["case", id, "move", unit],
    queryFn: ({ signal }) => answer(api.GET("/cases/{id}/unit", { signal, params: { path: { id }, query: { unit } } })),
  });

/** What one version of a unit's sheet says otherwise than another. */
export const differencesQuery = (id: string, from: number, to: number) =>
  queryOptions({
    queryKey: ["unit", id, "differences", from, to],
    queryFn: ({ signal }) => answer(api.GET("/units/{id}/differences", { signal, params: { path: { id }, query: { from, to } } })),
  });
