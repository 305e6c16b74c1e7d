import { Box, Button, chakra, Flex, Grid, Text } from "@chakra-ui/react";
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { answer, api, type Schemas } from "../../api/client";
import { Select } from "../../shared/fields";
import { Problem } from "../../shared/states";

/** What each column holds: as it was taken, to be put right. */
function Columns({ lab, fields, set }: { lab: Schemas["Lab"]; fields: string[]; set: (fields: string[]) => void }) {
  return (
    <Grid templateColumns="repeat(auto-fill, minmax(190px, 1fr))" gap="3" mt="2">
      {lab.heads.map((head, i) => (
        <chakra.label key={`${head}-${i}`} display="block" textStyle="note">
          <Box as="span" fontWeight="600">
            {head || `column ${i + 1}`}
          </Box>
          <Select
            aria-label={head || `column ${i + 1}`}
            value={fields[i] ?? ""}
            onChange={(e) => set(fields.map((f, j) => (j === i ? e.target.value : f)))}
          >
            <option value="">left out</option>
            {lab.choices.map((c) => (
              <option key={c.id} value={c.id}>
                {c.title}
              </option>
            ))}
          </Select>
        </chakra.label>
      ))}
    </Grid>
  );
}

function Errors({ errors }: { errors: Schemas["LabError"][] }) {
  if (errors.length === 0) return null;
  return (
    <Box role="alert" bg="faultSoft" borderLeftWidth="4px" borderColor="fault" px="4" py="2" my="3">
      <Text fontWeight="700">Nothing was read: {errors.length === 1 ? "one thing is" : `${errors.length} things are`} wrong.</Text>
      <Box as="ul">
        {errors.slice(0, 12).map((e) => (
          <li key={`${e.row} ${e.column} ${e.reason}`}>
            {e.row > 0 && `Row ${e.row}, `}
            {e.column && <b>{e.column}: </b>}
            {e.reason}. Accepted: {e.accepted}
          </li>
        ))}
      </Box>
      {errors.length > 12 && <Text>and {errors.length - 12} more</Text>}
    </Box>
  );
}

/** A laboratory's table of any layout: pasted or from a file, columns mapped once and remembered, a sample taken from it. */
export function LabFile({
  use,
  trendPath,
}: {
  use: (sample: Schemas["LabSample"]) => void;
  /** The address of the trend that begins with these values. */
  trendPath: (values: Record<string, string>) => string;
}) {
  const [text, setText] = useState("");
  const [fields, setFields] = useState<string[]>([]);
  const read = useMutation({
    mutationFn: (body: Schemas["LabText"]) => answer(api.POST("/lab-tables", { body })),
    onSuccess: (lab) => setFields(lab.fields),
  });
  const lab = read.data;
  const changed = lab && fields.some((f, i) => f !== lab.fields[i]);
  // What was read belongs to the text it was read from: another text has no table yet, and no columns to set.
  const enter = (next: string) => {
    setText(next);
    read.reset();
  };
  return (
    <chakra.details mb="4" borderBottomWidth="1px" borderColor="line" pb="3">
      <chakra.summary cursor="pointer" fontWeight="600" minH="44px" py="2">
        From a laboratory’s table
      </chakra.summary>
      <Text color="ink2" textStyle="note">
        One row of heads, a row for each sample; commas, semicolons or tabs, any order. Nothing leaves this machine.
      </Text>
      <Flex gap="3" mt="2" wrap="wrap" align="end">
        <chakra.label flex="1 1 320px" textStyle="label" fontWeight="600">
          Paste it
          <chakra.textarea
            display="block"
            w="full"
            minH="96px"
            p="2"
            fontFamily="body"
            fontWeight="400"
            bg="panel"
            borderWidth="1px"
            borderColor="slate"
            borderRadius="4px"
            value={text}
            onChange={(e) => enter(e.target.value)}
          />
        </chakra.label>
        <chakra.label textStyle="label" fontWeight="600">
          or a file
          <chakra.input
            type="file"
            accept=".csv,.tsv,.txt,text/csv,text/plain"
            display="block"
            minH="44px"
            onChange={(e) => void e.target.files?.[0]?.text().then(enter)}
          />
        </chakra.label>
        <Button disabled={text.trim() === ""} loading={read.isPending} onClick={() => read.mutate({ text })}>
          Read it
        </Button>
      </Flex>
      {read.error ? <Problem error={read.error} /> : null}
      {lab && (
        <Box as="section" aria-label="Laboratory’s table" mt="3">
          <Text>
            <b>What the columns hold</b>
            {lab.remembered ? ", as the last time with these heads." : ", as the heads say. Put right what is wrong."}
          </Text>
          <Columns lab={lab} fields={fields} set={setFields} />
          {changed && (
            <Button mt="2" variant="solid" loading={read.isPending} onClick={() => read.mutate({ text, fields })}>
              Read it so, and remember
            </Button>
          )}
          <Errors errors={lab.errors} />
          {!changed &&
            lab.samples.map((s) => (
              <Flex
                key={s.name}
                justify="space-between"
                align="center"
                gap="3"
                borderTopWidth="1px"
                borderColor="line"
                py="1.5"
                minH="52px"
              >
                <Text>
                  <b>{s.name}</b>{" "}
                  {Object.entries(s.values)
                    .map(([id, v]) => `${lab.choices.find((c) => c.id === id)?.title.split(",")[0] ?? id} ${v}`)
                    .join(" · ")}
                </Text>
                <Button onClick={() => use(s)} aria-label={`Use sample ${s.name}`}>
                  Use
                </Button>
              </Flex>
            ))}
          {!changed && lab.trends.length > 0 && (
            <Flex as="nav" aria-label="Trends over these samples" mt="2" gap="2" align="center" wrap="wrap">
              <Text fontWeight="600">As a trend:</Text>
              {lab.trends.map((t) => (
                <Button key={t.measure} asChild>
                  <Link to={trendPath(t.values)}>{t.title}</Link>
                </Button>
              ))}
            </Flex>
          )}
        </Box>
      )}
    </chakra.details>
  );
}
