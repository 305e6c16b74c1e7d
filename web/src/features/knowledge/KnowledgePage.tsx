import { Box, Flex, Grid, Input, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useDeferredValue } from "react";
import { Link, useNavigate, useParams, useSearchParams } from "react-router";
import { knowledgeQuery, unitsQuery, wordlessQuery } from "../../api/queries";
import { Chip } from "../../shared/Chip";
import { Select } from "../../shared/fields";
import { kindNames, knowledgePath, shortMoment } from "../../shared/format";
import { Empty, Loading, Problem } from "../../shared/states";
import { EntryView } from "./EntryView";
import { Title } from "../../shared/Title";

const plural: Record<string, string> = {
  cause: "Roots",
  damage: "Damages",
  fault: "Failures of the design",
  finding: "Findings",
  check: "Checks",
  option: "Repairs",
  school: "Schools",
};

/** What was noted in words because no finding says it: what the vocabulary lacks. */
function Wordless() {
  const { data } = useQuery(wordlessQuery);
  if (!data || data.count === 0) return null;
  return (
    <Box as="section" mt="6" aria-label="Noted in words">
      <Text as="h2" textStyle="heading" fontWeight="700">
        Noted in words: {data.count}
      </Text>
      <Text color="ink2">Notes that no finding covers yet. What keeps coming back should get one.</Text>
      {data.notes.map((n, i) => (
        <Box key={i} py="2" borderTopWidth="1px" borderColor="line">
          <Text>{n.note}</Text>
          <Text color="ink2" textStyle="small">
            <Link to={`/cases/${n.case}`}>
              <u>{n.vehicle}</u>
            </Link>
            {`, ${[n.by, shortMoment(n.at)].filter(Boolean).join(", ")}`}
          </Text>
        </Box>
      ))}
    </Box>
  );
}

/** Everything that is known, as it applies to a unit: searched by words, read sentence by sentence. */
export function KnowledgePage() {
  const { unit = "", kind = "", entry = "" } = useParams();
  const [params, setParams] = useSearchParams();
  const navigate = useNavigate();
  const units = useQuery(unitsQuery);
  const chosen = unit || units.data?.[0]?.id || "";
  const q = params.get("q") ?? "";
  const only = params.get("kind") ?? "";
  const { data, error } = useQuery({ ...knowledgeQuery(chosen, useDeferredValue(q), only), enabled: chosen !== "" });
  const set = (next: Record<string, string>) =>
    setParams(
      (old) => {
        const p = new URLSearchParams(old);
        for (const [k, v] of Object.entries(next)) {
          if (v) p.set(k, v);
          else p.delete(k);
        }
        return p;
      },
      { replace: true },
    );
  const search = params.toString();
  return (
    <Box as="main" px={{ base: "3", md: "5" }} py="4" flex="1">
      <Title of="Knowledge" />
      <Flex justify="space-between" align="end" gap="3" wrap="wrap">
        <Box>
          <Text as="h1" textStyle="title" fontWeight="700">
            Knowledge
          </Text>
          <Text color="ink2">
            What the ranking is based on, for one unit. How strong a sign is and how often a cause is met is judgment, not yet this shop’s
            own results.
          </Text>
        </Box>
        <Select
          aria-label="Unit"
          w="200px"
          value={chosen}
          onChange={(e) => void navigate({ pathname: `/knowledge/${e.target.value}`, search })}
        >
          {units.data?.map((u) => (
            <option key={u.id} value={u.id}>
              {u.name}
            </option>
          ))}
        </Select>
      </Flex>
      <Flex gap="2" wrap="wrap" mt="3" align="center">
        <Input
          type="search"
          aria-label="Search the knowledge"
          placeholder="Search: all words must match"
          w="300px"
          value={q}
          onChange={(e) => set({ q: e.target.value })}
        />
        <Chip type="button" aria-pressed={only === ""} onClick={() => set({ kind: "" })}>
          All
        </Chip>
        {data?.counts.map((c) => (
          <Chip key={c.kind} type="button" aria-pressed={only === c.kind} onClick={() => set({ kind: c.kind })}>
            {plural[c.kind]} <small>{c.count}</small>
          </Chip>
        ))}
      </Flex>
      {error && <Problem error={error} />}
      {!data && !error && <Loading what="the knowledge" />}
      {data && (
        <Grid templateColumns={{ base: "1fr", lg: "minmax(280px, 420px) minmax(0, 1fr)" }} gap="6" mt="4">
          <Box
            as="nav"
            aria-label="Entries"
            maxH={{ base: entry ? "240px" : undefined, lg: "calc(100vh - 220px)" }}
            overflowY="auto"
            tabIndex={0}
          >
            {data.entries.length === 0 && <Empty title="Nothing found">Fewer words find more; try the part alone.</Empty>}
            {data.entries.map((e) => {
              const here = e.kind === kind && e.id === entry;
              return (
                <button
                  key={`${e.kind} ${e.id}`}
                  type="button"
                  className="row-button"
                  aria-current={here ? "true" : undefined}
                  onClick={() => void navigate({ pathname: knowledgePath(chosen, e.kind, e.id), search })}
                >
                  <Flex
                    minH="44px"
                    align="center"
                    gap="3"
                    px="2"
                    borderTopWidth="1px"
                    borderColor="line"
                    bg={here ? "brassSoft" : undefined}
                    fontWeight={here ? "700" : "400"}
                  >
                    <Text flex="1">{e.title}</Text>
                    <Text color="ink2" textStyle="small" fontWeight="400">
                      {kindNames[e.kind]}
                    </Text>
                  </Flex>
                </button>
              );
            })}
            {data.total > data.entries.length && (
              <Text px="2" py="2" color="ink2">
                {data.entries.length} of {data.total}. More words narrow it down.
              </Text>
            )}
          </Box>
          {entry ? (
            <EntryView key={kind + entry} unit={chosen} kind={kind} entry={entry} />
          ) : (
            <Empty title="Choose an entry">Pick one to see what causes it, what it shows, how often, and why.</Empty>
          )}
        </Grid>
      )}
      <Wordless />
    </Box>
  );
}
