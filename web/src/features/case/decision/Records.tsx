import { Box, Button, Flex, Grid, Text, Textarea } from "@chakra-ui/react";
import { useMutation } from "@tanstack/react-query";
import { answer, api, type Schemas } from "../../../api/client";
import { Labelled, SelectField } from "../../../shared/fields";
import { day } from "../../../shared/format";
import { Problem } from "../../../shared/states";
import { useCase, useCaseStatus } from "../useCase";
import { useForm } from "../../../shared/useForm";

const leaves: [string, string][] = [
  ["customer", "the customer’s name and signature"],
  ["words", "what the customer said"],
  ["prices", "prices"],
  ["signature", "the signature alone"],
  ["photos", "pictures"],
  ["expert", "measurements and suspects"],
];

const blank = { parts: "", work: "", amends: "", why: "", leaveOut: [] as string[] };

/** The customer's record: looked at, issued, never altered; said otherwise only by another that names it. */
export function Records() {
  const { shown, actions, by } = useCase();
  const status = useCaseStatus();
  const [form, put, setForm] = useForm(blank);
  const body: Schemas["NewRecord"] = {
    parts: form.parts,
    work: form.work,
    leaveOut: form.leaveOut,
    ...(form.amends ? { amends: form.amends, why: form.why } : {}),
  };
  const draft = useMutation({
    mutationFn: () => answer(api.POST("/cases/{id}/record-draft", { params: { path: { id: shown.id } }, body: { by, ...body } })),
  });
  const path = (id: string) => `/api/cases/${shown.id}/records/${id}`;
  const toggle = (part: string) =>
    setForm({
      ...form,
      leaveOut: form.leaveOut.includes(part) ? form.leaveOut.filter((p) => p !== part) : [...form.leaveOut, part],
    });
  return (
    <Box as="section" aria-label="Customer’s record" mt="6" borderTopWidth="2px" borderColor="line" pt="3">
      <Text as="h3" fontWeight="700" mb="2">
        Customer’s record
      </Text>
      <Grid templateColumns={{ base: "1fr", md: "1fr 1fr" }} gap="3">
        <Labelled label="What was done, in the shop’s words">
          <Textarea rows={2} maxLength={2000} value={form.work} onChange={(e) => put({ work: e.target.value })} />
        </Labelled>
        <Labelled label="What becomes of the old parts">
          <Textarea
            rows={2}
            maxLength={2000}
            placeholder="shown and thrown away, given back, kept for …"
            value={form.parts}
            onChange={(e) => put({ parts: e.target.value })}
          />
        </Labelled>
        {shown.records.length > 0 && (
          <>
            <SelectField
              label="Amends"
              value={form.amends}
              onChange={(e) => put({ amends: e.target.value })}
              options={[["", "nothing: a record of its own"], ...shown.records.map((r): [string, string] => [r.id, `record ${r.number}`])]}
            />
            {form.amends && (
              <Labelled label="Why" required>
                <Textarea rows={1} maxLength={2000} value={form.why} onChange={(e) => put({ why: e.target.value })} />
              </Labelled>
            )}
          </>
        )}
      </Grid>
      <Flex role="group" aria-label="Left out of this copy" gap="3" wrap="wrap" my="2" align="center">
        <Text fontWeight="600">A copy for others leaves out:</Text>
        {leaves.map(([part, title]) => (
          <label key={part} style={{ display: "flex", gap: 8, alignItems: "center", minHeight: 44, cursor: "pointer" }}>
            <input type="checkbox" checked={form.leaveOut.includes(part)} onChange={() => toggle(part)} style={{ width: 20, height: 20 }} />
            {title}
          </label>
        ))}
      </Flex>
      <Flex gap="3" wrap="wrap">
        <Button loading={draft.isPending} onClick={() => draft.mutate()}>
          Look at it first
        </Button>
        <Button
          variant="solid"
          loading={status.issue.isPending}
          onClick={() => actions.issue.mutate(body, { onSuccess: () => (setForm(blank), draft.reset()) })}
        >
          Issue the record
        </Button>
      </Flex>
      {draft.error && <Problem error={draft.error} />}
      {status.issue.isError && <Problem error={status.issue.error} />}
      {draft.data && draft.data.notPrintable.length > 0 && (
        <Box role="note" aria-label="Not printed as it is" bg="faultSoft" borderLeftWidth="4px" borderColor="fault" px="3" py="2" mt="3">
          <Text fontWeight="700">The PDF cannot show all of it</Text>
          {draft.data.notPrintable.map((x) => (
            <Text key={x}>{x}</Text>
          ))}
        </Box>
      )}
      {draft.data && (
        <iframe
          title="Draft of the record"
          srcDoc={draft.data.html}
          sandbox=""
          style={{ width: "100%", height: 620, border: "1px solid var(--chakra-colors-slate)", background: "#fff", marginTop: 12 }}
        />
      )}
      {shown.records.map((r) => (
        <Flex key={r.id} borderTopWidth="1px" borderColor="line" mt="2" pt="2" gap="3" align="center" justify="space-between" wrap="wrap">
          <Box>
            <Text>
              <b>Record {r.number}</b> · {day(r.at)}
              {r.by && ` · ${r.by}`}
              {r.why && ` · amends: ${r.why}`}
            </Text>
            <Text textStyle="fine" color="ink2" wordBreak="break-all">
              {r.digest}
            </Text>
          </Box>
          <Flex gap="2" wrap="wrap">
            {(
              [
                ["page", "Page"],
                ["pdf", "PDF, A4"],
                ["pdf?paper=Letter", "PDF, Letter"],
                ["file", "Open file"],
              ] as const
            ).map(([kind, title]) => (
              <Button key={kind} asChild>
                <a href={`${path(r.id)}/${kind}`} target="_blank" rel="noreferrer">
                  {title}
                </a>
              </Button>
            ))}
          </Flex>
        </Flex>
      ))}
    </Box>
  );
}
