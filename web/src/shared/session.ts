import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { answer, api, isAway, type Schemas } from "../api/client";
import { outbox } from "../api/outbox";
import { sessionQuery } from "../api/queries";

export type Session = Schemas["Session"];
export type Role = Schemas["Role"];

export const roleNames: Record<Role, string> = {
  owner: "owner",
  diagnostician: "diagnostician",
  apprentice: "apprentice",
  "front-desk": "front desk",
};

/** Whether the page has to wait for somebody to sign in, or to choose a passphrase of their own. */
export const isLocked = (s: Session | undefined) => !!s && s.needed && (!s.person || !!s.change);

/** Who is signed in, and whether the page is locked. */
export function useSession() {
  const { data, isPending, error } = useQuery(sessionQuery);
  return { session: data, isPending, error, locked: isLocked(data) };
}

/** Whether something may be done by whoever is signed in; before that is known, it may. */
export function useMay(right: string) {
  const { data } = useQuery(sessionQuery);
  return !data || data.rights.includes(right);
}

/** Puts a new session in place and fetches again what is shown: others may see other things. */
export function useEntered() {
  const client = useQueryClient();
  return (s: Session) => {
    client.setQueryData(sessionQuery.queryKey, s);
    outbox.poke();
    void client.invalidateQueries({ predicate: (q) => q.queryKey[0] !== "session" });
  };
}

export function useSignOut() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: () => answer(api.DELETE("/session")),
    // Without the server too the page locks: what is on it is covered.
    onMutate: () => client.setQueryData(sessionQuery.queryKey, (s) => s && { ...s, person: undefined, rights: [] }),
    retry: (n, e) => isAway(e) && n < 3,
    onSettled: () => client.invalidateQueries({ queryKey: sessionQuery.queryKey }),
  });
}

/** A little before the server ends a session that nobody uses, the page does: what is on the screen is covered too. */
const idleMinutes = 28;

/** Signs out when nobody has touched the page for a while. */
export function useIdleEnd(session: Session | undefined, signOut: () => void) {
  const watched = !!session?.needed && !!session.person;
  useEffect(() => {
    if (!watched) return;
    let last = Date.now();
    const touched = () => void (last = Date.now());
    for (const e of ["pointerdown", "keydown"]) window.addEventListener(e, touched, { passive: true });
    const timer = setInterval(() => {
      if (Date.now() - last > idleMinutes * 60_000) signOut();
    }, 20_000);
    return () => {
      clearInterval(timer);
      for (const e of ["pointerdown", "keydown"]) window.removeEventListener(e, touched);
    };
  }, [watched, signOut]);
}
