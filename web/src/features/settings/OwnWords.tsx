import { Button, Flex, Text } from "@chakra-ui/react";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import type { ChangeEvent } from "react";
import { answer, api } from "../../api/client";
import { ownWordsQuery } from "../../api/queries";
import { day } from "../../shared/format";
import { Section } from "../../shared/Section";
import { Loading, Problem } from "../../shared/states";
import { Table } from "../../shared/Table";

/** What this shop's customers say and the app did not know. */
export function OwnWords() {
  const client = useQueryClient();
  const { data, error } = useQuery(ownWordsQuery);
  const anew = () => void client.invalidateQueries({ queryKey: ["words"] });
  const forget = useMutation({
    mutationFn: (word: string) => answer(api.DELETE("/own-words/{word}", { params: { path: { word } } })),
    onSettled: anew,
  });
  const read = useMutation({ mutationFn: (text: string) => answer(api.PUT("/word-table", { body: { text } })), onSettled: anew });
  const open = (e: ChangeEvent<HTMLInputElement>) => {
    void e.target.files?.[0]?.text().then((text) => read.mutate(text));
    e.target.value = "";
  };
  return (
    <Section id="words" title="Words of the shop" about="Added from a complaint, at “This means …”. Another shop can read the table.">
      {error && <Problem error={error} />}
      {forget.error && <Problem error={forget.error} />}
      {read.error && <Problem error={read.error} />}
      {!data && !error && <Loading what="the words" rows={2} />}
      {data?.length === 0 && <Text color="ink2">None yet.</Text>}
      {data && data.length > 0 && (
        <Table
          label="Words of the shop"
          head={["they say", "it means", "added", ""]}
          rows={data.map((w) => [
            `“${w.say}”`,
            w.means,
            [w.by, day(w.at)].filter(Boolean).join(", "),
            <Button key="x" variant="ghost" aria-label={`Remove “${w.say}”`} onClick={() => forget.mutate(w.id)}>
              ✕
            </Button>,
          ])}
        />
      )}
      <Flex gap="3" mt="3" wrap="wrap">
        <Button asChild loading={read.isPending}>
          <label>
            Read a table
            <input type="file" accept=".csv,text/csv" onChange={open} style={{ position: "absolute", opacity: 0, width: 1 }} />
          </label>
        </Button>
        {data && data.length > 0 && (
          <Button asChild>
            <a href="/api/word-table" download>
              Write a table
            </a>
          </Button>
        )}
      </Flex>
    </Section>
  );
}
