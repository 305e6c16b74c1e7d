import { useQuery } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import type { Schemas } from "../../../api/client";
import { optionsQuery } from "../../../api/queries";
import { useSettled } from "../../../shared/useSettled";
import { useCase } from "../useCase";

/** The options as they are weighed, with what is set by hand: qualities, a ceiling, figures, the option looked at and what goes with it. */
export function useDeal() {
  const { shown } = useCase();
  const [quality, setQuality] = useState<Record<string, string>>({});
  const [set, setSet] = useState<Record<string, string>>({});
  const [offered, setOffered] = useState<ReadonlySet<string>>(new Set());
  const [ceiling, setCeiling] = useState("");
  const [ahead, setAhead] = useState("");
  const [picked, setPicked] = useState("");
  const [addOns, setAddOns] = useState<string[]>([]);
  const choices = useSettled(
    useMemo<Schemas["Choices"]>(() => ({ quality, set, ceiling, ahead }), [quality, set, ceiling, ahead]),
    120,
  );
  // The order follows a figure as it is typed; what would turn it takes longer and comes after.
  const query = useQuery(optionsQuery(shown.id, shown.rev, choices));
  const more = useQuery(optionsQuery(shown.id, shown.rev, { ...choices, option: picked || undefined, addOns, full: true }));
  const rows = query.data?.rows ?? [];
  const row = rows.find((r) => r.id === picked) ?? rows[0];
  const figure = (id: string, value: string | undefined, inEstimate: boolean) => {
    if (inEstimate) setOffered((old) => new Set(old).add(id));
    setSet((old) => {
      const rest = Object.fromEntries(Object.entries(old).filter(([k]) => k !== id));
      return value === undefined ? rest : { ...rest, [id]: value };
    });
  };
  const { turns, sentence, addOns: extras, figures, first, visit } = more.data ?? {};
  return {
    ...query,
    data: query.data && {
      ...query.data,
      turns: turns ?? [],
      sentence: sentence ?? "",
      addOns: extras ?? [],
      figures: figures ?? [],
      first,
    },
    row,
    /** The option looked at with what goes with it; not there while it is being priced. */
    visit: more.isPlaceholderData ? undefined : visit,
    quality,
    set,
    ceiling,
    ahead,
    addOns,
    /** Prices and times set for this estimate; the other figures are for looking only. */
    estimated: Object.fromEntries(Object.entries(set).filter(([id]) => offered.has(id))),
    pick: (id: string) => {
      setPicked(id);
      setAddOns([]);
    },
    setQuality: (option: string, q: string) => setQuality((old) => ({ ...old, [option]: q })),
    figure,
    reset: () => setSet({}),
    setCeiling,
    setAhead,
    toggle: (option: string) => setAddOns((old) => (old.includes(option) ? old.filter((o) => o !== option) : [...old, option])),
  };
}

export type Deal = ReturnType<typeof useDeal>;
