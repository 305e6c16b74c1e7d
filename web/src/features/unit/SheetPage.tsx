import { Box, Button, Flex, Grid, Text } from "@chakra-ui/react";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState, type ChangeEvent } from "react";
import { useNavigate, useSearchParams } from "react-router";
import { answer, api } from "../../api/client";
import { sheetCheckQuery, unitsQuery } from "../../api/queries";
import { LoadingPlace, Problem } from "../../shared/states";
import { worker } from "../../shared/worker";
import { SheetEditor, type EditorHandle } from "./SheetEditor";
import { SheetVerdict } from "./SheetVerdict";
import { useSettled } from "../../shared/useSettled";
import { useDraft } from "./useDraft";
import { Title } from "../../shared/Title";

/** The text that a new sheet begins with: a copy of a unit's sheet, with what was found different in a case, or the empty one. */
async function beginning(from: string | null, version: string | null, next: boolean, found: string | null): Promise<string> {
  if (found) {
    const own = await fetch(`/api/cases/${found}/own-sheet`);
    if (!own.ok) throw new Error("nothing was noted as this unit's own");
    return own.text();
  }
  const res = await fetch(from ? `/api/units/${from}/sheet?format=yaml${version ? `&version=${version}` : ""}` : "/api/blank-sheet");
  if (!res.ok) throw new Error("the sheet to begin with could not be read");
  const text = await res.text();
  if (!from) return text;
  return next
    ? text.replace(/^version: (\d+)/m, (_, v: string) => `version: ${Number(v) + 1}`)
    : text
        .replace(/^id: .*$/m, `id: my-${from}`)
        .replace(/^version: .*$/m, "version: 1")
        .replace(/^name: (.*)$/m, "name: $1, own");
}

/** A practitioner's own sheet. Another beginning is another text: nothing of the last one is carried over. */
export function SheetPage() {
  const [params] = useSearchParams();
  const from = params.get("from");
  const version = params.get("version");
  const next = params.has("next");
  const found = params.get("case");
  return <SheetWriter key={`${from} ${version} ${next} ${found}`} from={from} version={version} next={next} found={found} />;
}

/** Text, verdict and what can be done with it; checked as it is written. */
function SheetWriter({ from, version, next, found }: { from: string | null; version: string | null; next: boolean; found: string | null }) {
  const navigate = useNavigate();
  const client = useQueryClient();
  const draft = useDraft(found ? `case ${found}` : `${from ?? "blank"} ${version ?? ""}`);
  const { setText, clear } = draft;
  const text = draft.text ?? "";
  const [before, setBefore] = useState(""); // what a button replaced, to take it back
  const editor = useRef<EditorHandle>(null);
  const start = useQuery({
    queryKey: ["beginning", from, version, next, found],
    queryFn: () => beginning(from, version, next, found),
    staleTime: Infinity,
  });
  useEffect(() => {
    if (start.data && draft.text === null) setText(start.data);
  }, [start.data, draft.text, setText]);
  const settled = useSettled(text);
  const check = useQuery(sheetCheckQuery(settled));
  const save = useMutation({
    mutationFn: () => answer(api.POST("/units", { body: { text, by: worker() } })),
    onSuccess: (made) => {
      clear();
      void client.invalidateQueries({ queryKey: unitsQuery.queryKey });
      void client.invalidateQueries({ queryKey: ["unit", made.id] });
      void navigate(`/units/${made.id}/gears`);
    },
  });
  const replace = (by: string) => {
    setBefore(text);
    setText(by);
  };
  const open = async (e: ChangeEvent<HTMLInputElement>) => {
    const file = e.target.files?.[0];
    if (file) replace(file.size > 1 << 20 ? `# ${file.name} is larger than 1 MiB and was not read` : await file.text());
    e.target.value = "";
  };
  if (start.error) return <Problem error={start.error} retry={() => void start.refetch()} />;
  if (draft.text === null) return <LoadingPlace title="Sheet" what="the sheet" />;
  const stale = settled !== text || check.isFetching;
  return (
    <Box as="main" px={{ base: "3", md: "5" }} py="4" w="full">
      <Title of="Sheet" />
      <Flex justify="space-between" align="start" gap="4" wrap="wrap" mb="3">
        <Box>
          <Text as="h1" textStyle="title" fontWeight="700">
            A sheet of your own
          </Text>
          <Text color="ink2">Checked as you write; kept in this browser until it is saved.</Text>
        </Box>
        <Flex gap="3" wrap="wrap">
          <Button asChild>
            <label>
              Open a file
              <input
                type="file"
                accept=".yaml,.yml,.json"
                onChange={(e) => void open(e)}
                style={{ position: "absolute", opacity: 0, width: 1 }}
              />
            </label>
          </Button>
          <Button
            onClick={() => {
              if (start.data) replace(start.data);
            }}
          >
            Begin again
          </Button>
          {before && (
            <Button
              onClick={() => {
                setText(before);
                setBefore("");
              }}
            >
              Take that back
            </Button>
          )}
          <Button variant="solid" disabled={!check.data?.good || stale || save.isPending} onClick={() => save.mutate()}>
            Save as version {check.data?.good ? check.data.version : "…"}
          </Button>
        </Flex>
      </Flex>
      {save.error && <Problem error={save.error} />}
      {check.error && <Problem error={check.error} retry={() => void check.refetch()} />}
      <Grid templateColumns={{ base: "minmax(0, 1fr)", lg: "minmax(0, 1.5fr) minmax(0, 1fr)" }} gap="6">
        <SheetEditor ref={editor} text={text} onChange={setText} problems={check.data?.problems ?? []} />
        {check.data && <SheetVerdict check={check.data} stale={stale} goTo={(line) => editor.current?.goTo(line)} />}
      </Grid>
    </Box>
  );
}
