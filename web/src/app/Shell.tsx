import { Box, chakra, Flex, Text } from "@chakra-ui/react";
import { useIsMutating, useQuery, useQueryClient } from "@tanstack/react-query";
import { Search, UserRound } from "lucide-react";
import { lazy, Suspense, useCallback, useEffect, useRef, useState, type ReactNode } from "react";
import { useHotkeys } from "react-hotkeys-hook";
import { NavLink, Outlet, useLocation, useMatch, useNavigate } from "react-router";
import { outbox } from "../api/outbox";
import { caseQuery, sessionQuery, settingsQuery } from "../api/queries";
import { setNotation } from "../shared/format";
import { useIdleEnd, useSession, useSignOut, type Session } from "../shared/session";
import { Foot } from "./Foot";
import { WaitingHere } from "./WaitingHere";
import { KeysPanel } from "./KeysPanel";

const loadSignIn = () => import("../features/people/SignIn");
const SignIn = lazy(async () => ({ default: (await loadSignIn()).SignIn }));
const Palette = lazy(async () => ({ default: (await import("./Palette")).Palette }));

const places = [
  { to: "/", label: "Floor" },
  { to: "/week", label: "Week" },
  { to: "/units", label: "Units" },
  { to: "/instruments", label: "Instruments" },
  { to: "/recordings", label: "Recordings" },
  { to: "/knowledge", label: "Knowledge" },
  { to: "/settings", label: "Settings" },
];

function Mark() {
  return (
    <svg viewBox="0 0 24 24" width="24" height="24" aria-hidden>
      <circle cx="12" cy="12" r="10.5" fill="none" stroke="currentColor" strokeWidth="1.6" />
      <path d="M17 6.5 13.4 13.4 6.5 17 10.6 10.6Z" fill="var(--chakra-colors-brass)" />
      <circle cx="12" cy="12" r="1.7" fill="currentColor" />
    </svg>
  );
}

/** What else an event is about: what is priced, and what is listed. */
const shops = ["settings", "backup", "units", "prices", "words", "recordings", "week"];

/** Listens for changes made on other pages and says whether the server is there; while the page is locked it does not ask. */
function useServer(locked: boolean) {
  const client = useQueryClient();
  const [away, setAway] = useState(false);
  const [attempt, setAttempt] = useState(0);
  useEffect(() => {
    if (locked) return;
    const events = new EventSource("/api/events");
    let missed = false;
    const timers = new Set<ReturnType<typeof setTimeout>>();
    /** Fetches a case again unless the change has arrived: by another answer, or by one that is still on its way. */
    const fetchCase = (id: string, rev: number) => {
      if ((client.getQueryData(caseQuery(id).queryKey)?.rev ?? 0) >= rev) return;
      if (client.isMutating({ mutationKey: ["case", id] }) > 0) {
        const timer = setTimeout(() => (timers.delete(timer), fetchCase(id, rev)), 300);
        timers.add(timer);
        return;
      }
      void client.invalidateQueries({ queryKey: ["case", id] });
    };
    events.onopen = () => {
      setAway(false);
      outbox.poke();
      // Whatever changed while nobody could say so: all that is on the screen is fetched again.
      if (missed) void client.invalidateQueries();
      missed = false;
    };
    events.onerror = () => {
      missed = true;
      if (events.readyState !== EventSource.CLOSED) return setAway(true);
      // Closed for good: the server is there and refuses, since the session is over, or too many pages are open here.
      void client.invalidateQueries({ queryKey: sessionQuery.queryKey });
      const timer = setTimeout(() => setAttempt((n) => n + 1), 15_000);
      timers.add(timer);
    };
    events.addEventListener("changed", (e) => {
      const { data: id, lastEventId } = e as MessageEvent<string>;
      if (shops.includes(id)) void client.invalidateQueries({ queryKey: [id] });
      else fetchCase(id, Number(lastEventId));
      if (id === "words") void client.invalidateQueries({ queryKey: ["case-words"] });
      if (id === "week") for (const key of ["job", "workshop"]) void client.invalidateQueries({ queryKey: [key] });
      else if (!shops.includes(id)) void client.invalidateQueries({ queryKey: ["week"] });
      if (id === "prices" || id === "settings") void client.invalidateQueries({ queryKey: ["options"] });
      void client.invalidateQueries({ queryKey: ["cases"] });
    });
    return () => {
      events.close();
      timers.forEach(clearTimeout);
    };
  }, [client, locked, attempt]);
  return away && !locked;
}

/**
 * How the shop writes numbers and tells the time, set before anything below is drawn; nothing while it is not known. A change reaches
 * the page with the next place: what is half typed here stays.
 */
function useNotation(locked: boolean) {
  const { pathname } = useLocation();
  const { data, isPending } = useQuery({ ...settingsQuery, enabled: !locked });
  const [notation, setDrawn] = useState<{ at: string; numbers?: string; zone?: string }>();
  if (!isPending && notation?.at !== pathname) setDrawn({ at: pathname, numbers: data?.numbers, zone: data?.zone });
  setNotation(notation?.numbers, notation?.zone);
  return notation;
}

/** After a way to another place the focus goes with it, unless something there has taken it already. */
function usePlaceFocus() {
  const { pathname } = useLocation();
  const place = useRef<HTMLDivElement>(null);
  const before = useRef(pathname);
  useEffect(() => {
    if (before.current === pathname) return;
    before.current = pathname;
    if (!place.current?.contains(document.activeElement)) place.current?.focus({ preventScroll: true });
  }, [pathname]);
  return place;
}

/** The first thing that Tab reaches: past the places, to the page itself. */
function SkipLink() {
  return (
    <chakra.a
      href="#place"
      position="absolute"
      left="3"
      top="-60px"
      zIndex="20"
      bg="panel"
      px="4"
      py="2.5"
      borderWidth="2px"
      borderColor="brass"
      borderRadius="6px"
      fontWeight="600"
      _focus={{ top: "2" }}
    >
      Skip to the page
    </chakra.a>
  );
}

/** Abreast of the name from a width on; below it under the name, in a row of their own. */
function Places({ from }: { from: "md" | "lg" }) {
  return (
    <Flex
      as="nav"
      aria-label="Places"
      gap={{ base: "0", lg: "1" }}
      h={{ base: "44px", [from]: "48px" }}
      order={{ base: 3, [from]: 0 }}
      w={{ base: "full", [from]: "auto" }}
      overflowX="auto"
      mx={{ base: "-2", [from]: "0" }}
    >
      {places.map((p) => (
        <NavLink key={p.to} to={p.to} end={p.to === "/"}>
          {({ isActive }) => (
            <Flex
              align="center"
              h="full"
              px={{ base: "2", md: "1.5", lg: "2.5" }}
              borderBottomWidth="2px"
              borderColor={isActive ? "brass" : "transparent"}
              color={isActive ? "ink" : "ink2"}
              fontWeight={isActive ? "600" : "400"}
            >
              {p.label}
            </Flex>
          )}
        </NavLink>
      ))}
    </Flex>
  );
}

/** Opens the palette; looks like what it is, a place to type. */
function FindAnything({ open }: { open: () => void }) {
  return (
    <chakra.button
      type="button"
      onClick={open}
      aria-label="Find anything"
      aria-keyshortcuts="/ Control+K"
      minH="44px"
      minW="44px"
      color="ink2"
    >
      <Flex
        align="center"
        justify={{ base: "center", lg: "space-between" }}
        gap="2"
        h="34px"
        px={{ base: "0", lg: "3" }}
        w={{ lg: "230px" }}
        bg={{ lg: "panel" }}
        borderWidth={{ base: "0", lg: "1px" }}
        borderColor="slate"
        borderRadius="6px"
      >
        <Flex align="center" gap="2">
          <Search size={18} aria-hidden />
          <Text display={{ base: "none", lg: "block" }}>Find anything</Text>
        </Flex>
        <Box display={{ base: "none", lg: "block" }}>
          <kbd>/</kbd>
        </Box>
      </Flex>
    </chakra.button>
  );
}

/** The frame that stays while a place loads: the name, the places, what comes at the right. A person's name at the right takes the room of two places. */
export function Frame({ right, named, children }: { right?: ReactNode; named?: boolean; children?: ReactNode }) {
  const from = named ? "lg" : "md";
  return (
    <Box minH="100vh" display="flex" flexDir="column">
      <SkipLink />
      <Flex
        as="header"
        align="center"
        wrap={{ base: "wrap", [from]: "nowrap" }}
        columnGap={{ base: "3", md: "5" }}
        px={{ base: "3", md: "5" }}
        minH="48px"
        borderBottomWidth="1px"
        borderColor="line"
      >
        <Flex align="center" gap="3" fontWeight="700" textStyle="lead">
          <Mark />
          <Text whiteSpace="nowrap">Inner Compass</Text>
        </Flex>
        <Places from={from} />
        <Flex ml="auto" align="center" gap={{ base: "1", lg: "3" }} color="ink2" textStyle="note" minH="48px">
          {right}
        </Flex>
      </Flex>
      {children}
    </Box>
  );
}

/** Who is signed in; pressing it makes room for somebody else. */
function WhoIsHere({ session, change }: { session: Session | undefined; change: () => void }) {
  if (!session?.person) return null;
  return (
    <chakra.button
      type="button"
      onClick={change}
      title="Change person"
      aria-label={`${session.person.name} is signed in: change person`}
      minH="44px"
      px="2"
      color="ink"
      fontWeight="600"
      display="flex"
      alignItems="center"
      gap="1.5"
    >
      <UserRound size={18} aria-hidden />
      <Text maxW="110px" truncate>
        {session.person.name}
      </Text>
    </chakra.button>
  );
}

export function Shell() {
  const navigate = useNavigate();
  const { session, locked, isPending } = useSession();
  const { mutate: signOut } = useSignOut();
  const end = useCallback(() => signOut(), [signOut]);
  useIdleEnd(session, end);
  const needed = session?.needed;
  useEffect(() => {
    if (needed) void loadSignIn(); // it may be wanted when the server is away
  }, [needed]);
  const away = useServer(locked || isPending);
  const saving = useIsMutating() > 0;
  const [keys, setKeys] = useState(false);
  const [finding, setFinding] = useState(false);
  const caseId = useMatch("/cases/:id/*")?.params.id ?? "";
  const notation = useNotation(locked || isPending);
  useHotkeys("?", () => setKeys((k) => !k), { useKey: true });
  useHotkeys("/", () => setFinding(true), { useKey: true, preventDefault: true });
  useHotkeys("ctrl+k, meta+k", () => setFinding(true), { preventDefault: true, enableOnFormTags: true });
  useHotkeys("g>f", () => navigate("/"));
  useHotkeys("g>w", () => navigate("/week"));
  useHotkeys("g>u", () => navigate("/units"));
  useHotkeys("g>i", () => navigate("/instruments"));
  useHotkeys("g>r", () => navigate("/recordings"));
  useHotkeys("g>k", () => navigate("/knowledge"));
  useHotkeys("g>s", () => navigate("/settings"));
  const place = usePlaceFocus();
  return (
    <Frame
      named={!!session?.person}
      right={
        <>
          <Text role="status" whiteSpace="nowrap" color={away ? "fault" : "ink2"} fontWeight={away ? "700" : "400"}>
            {away ? "Server away: kept here, trying again" : saving ? "Saving …" : ""}
          </Text>
          <WhoIsHere session={session} change={end} />
          <FindAnything open={() => setFinding(true)} />
          <button type="button" onClick={() => setKeys(true)} aria-label="Keys of this place" style={{ minWidth: 44, minHeight: 44 }}>
            <kbd>?</kbd>
          </button>
        </>
      }
    >
      <Box
        id="place"
        aria-hidden={locked || undefined}
        inert={locked || undefined}
        ref={place}
        tabIndex={-1}
        outline="none"
        flex="1"
        display="flex"
        flexDir="column"
      >
        {notation && <Outlet key={`${notation.numbers} ${notation.zone}`} />}
      </Box>
      <WaitingHere me={session?.person?.id ?? ""} away={away} />
      <Foot />
      {locked && session && (
        // Until the sign-in is there the page is covered all the same.
        <Suspense fallback={<Box position="fixed" inset="0" zIndex="30" bg="page" />}>
          <SignIn session={session} />
        </Suspense>
      )}
      {keys && <KeysPanel close={() => setKeys(false)} />}
      {finding && (
        <Suspense fallback={null}>
          <Palette caseId={caseId} close={() => setFinding(false)} />
        </Suspense>
      )}
    </Frame>
  );
}
