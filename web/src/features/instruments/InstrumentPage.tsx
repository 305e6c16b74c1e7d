import { Box, Flex, Text } from "@chakra-ui/react";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Link, useParams, useSearchParams } from "react-router";
import { answer, api, isAway } from "../../api/client";
import { caseQuery, openCasesQuery, instrumentQuery, settingsQuery, unitsQuery } from "../../api/queries";
import { SelectField } from "../../shared/fields";
import { quoted } from "../../shared/format";
import { InstrumentForm, type Measured } from "../../shared/instrument/InstrumentForm";
import { instrumentPath } from "../../shared/instrument/path";
import { answered, keyOf } from "../../api/keys";
import { Loading, Problem } from "../../shared/states";
import { worker } from "../../shared/worker";
import { Kept } from "./Kept";
import { LabFile } from "./LabFile";
import { takeNews } from "../case/useCase";
import { Title } from "../../shared/Title";

/** One instrument: on nothing, on a unit, or on a case, where its result can become a reading. */
export function InstrumentPage() {
  const { id = "" } = useParams();
  const [params, setParams] = useSearchParams();
  const on = { part: params.get("part") ?? undefined, unit: params.get("unit") ?? undefined, case: params.get("case") ?? undefined };
  const client = useQueryClient();
  const { data: units } = useQuery(unitsQuery);
  const { data: cases } = useQuery(openCasesQuery);
  const { data: settings } = useQuery(settingsQuery);
  const chosenCase = useQuery({ ...caseQuery(on.case ?? ""), enabled: !!on.case });
  const { data, error } = useQuery(instrumentQuery(id, on, chosenCase.data?.rev ?? 0));
  const place = `${on.case} ${data?.name}`;
  const by = worker() || settings?.people[0]?.name;
  const put = useMutation({
    mutationFn: (m: Measured) =>
      answer(
        api.POST("/cases/{id}/instruments/{instrument}", {
          params: { path: { id: on.case ?? "", instrument: data?.name ?? id }, header: { "Idempotency-Key": keyOf(place, m) } },
          body: { ...m, by },
        }),
      ),
    onSuccess: (now, m) => {
      answered(place, keyOf(place, m));
      takeNews(client, on.case ?? "", now);
    },
    onError: (e, m) => {
      if (!isAway(e)) answered(place, keyOf(place, m));
    },
  });
  const back = useMutation({
    mutationFn: (measurement: string) =>
      answer(api.DELETE("/cases/{id}/measurements/{measurement}", { params: { path: { id: on.case ?? "", measurement }, query: { by } } })),
    onSuccess: (now) => takeNews(client, on.case ?? "", now),
  });
  const go = (next: { part?: string; unit?: string; case?: string }) =>
    setParams((old) => {
      const p = new URLSearchParams(old);
      for (const [k, v] of Object.entries(next)) {
        if (v) p.set(k, v);
        else p.delete(k);
      }
      for (const k of [...p.keys()]) if (k.startsWith("with.")) p.delete(k);
      return p;
    });
  /** Begins the instrument anew with these values. */
  const start = (values: Record<string, string>) =>
    setParams((old) => {
      const p = new URLSearchParams([...old].filter(([k]) => !k.startsWith("with.")));
      for (const [k, v] of Object.entries(values)) p.set(`with.${k}`, v);
      return p;
    });
  const given = Object.fromEntries([...params].flatMap(([k, v]) => (k.startsWith("with.") ? [[k.slice(5), v]] : [])));
  const open = cases?.items ?? [];
  return (
    <Box as="main" px={{ base: "3", md: "5" }} py="4" flex="1">
      <Title of={data?.title ?? "Instrument"} />
      <Link to={`/instruments${on.case ? `?case=${on.case}` : ""}`}>
        <Text as="span" display="inline-block" minH="32px" fontWeight="600">
          ← All instruments
        </Text>
      </Link>
      {error && <Problem error={error} />}
      {!data && !error && <Loading what="the instrument" />}
      {data && (
        <>
          <Flex justify="space-between" align="end" gap="4" wrap="wrap">
            <Box flex="1 1 360px">
              <Text as="h1" textStyle="title" fontWeight="700" lineHeight="1.2">
                {data.title}
              </Text>
              <Text color="ink2">{data.answers}</Text>
            </Box>
            <Flex gap="2" wrap="wrap">
              <Box w="240px">
                <SelectField
                  label="For a case"
                  value={on.case ?? ""}
                  options={[["", "none"], ...open.map((c): [string, string] => [c.id, `${c.vehicle} ${quoted(c.words)}`])]}
                  onChange={(e) => go({ case: e.target.value, unit: "", part: "" })}
                />
              </Box>
              {!on.case && (
                <Box w="170px">
                  <SelectField
                    label="Unit"
                    value={on.unit ?? ""}
                    options={[["", "none"], ...(units ?? []).map((u): [string, string] => [u.id, u.name])]}
                    onChange={(e) => go({ unit: e.target.value, part: "" })}
                  />
                </Box>
              )}
              {data.parts.length > 0 && (
                <Box w="220px">
                  <SelectField
                    label="Of what"
                    value={data.part}
                    options={data.parts.map((p): [string, string] => [p.id, p.title])}
                    onChange={(e) => go({ part: e.target.value })}
                  />
                </Box>
              )}
            </Flex>
          </Flex>
          <Box mt="4" pt="4" borderTopWidth="1px" borderColor="line">
            {data.id === "fluid-report" && (
              <LabFile use={(s) => start(s.values)} trendPath={(values) => instrumentPath("fluid-trend", on, values)} />
            )}
            <InstrumentForm
              key={`${data.name} ${on.unit ?? ""} ${on.case ?? ""} ${JSON.stringify(given)}`}
              instrument={data}
              given={given}
              onward={(f) => instrumentPath(f.name, on, f.values)}
              computeKey={["calculate", data.name, on]}
              compute={({ values, gauge }, signal) =>
                answer(
                  api.POST("/instruments/{id}", {
                    signal,
                    params: { path: { id }, query: { ...on, part: data.part || undefined } },
                    body: { values, gauge },
                  }),
                )
              }
              put={on.case ? put.mutate : undefined}
              putting={put.isPending}
              putProblem={put.error}
              closed={chosenCase.data?.closed ?? false}
            >
              {back.error && <Problem error={back.error} />}
              {put.isSuccess && (
                <Text mt="3" role="status">
                  <b>Kept in the case.</b>{" "}
                  <Link to={`/cases/${on.case}/checks`}>
                    <u>To the case</u>
                  </Link>
                </Text>
              )}
              {on.case && <Kept title="Measured before in this case" kept={data.history} caseId={on.case} takeBack={back.mutate} />}
            </InstrumentForm>
          </Box>
        </>
      )}
    </Box>
  );
}
