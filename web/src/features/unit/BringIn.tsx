import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState, type ChangeEvent } from "react";
import { answer, api, type Schemas } from "../../api/client";
import { unitsQuery } from "../../api/queries";
import { Disclosed } from "../../shared/Disclosed";
import { Problem } from "../../shared/states";
import { worker } from "../../shared/worker";

const words: Record<Schemas["BroughtSheet"]["state"], string> = {
  new: "new here",
  next: "newer than on file",
  same: "on file already",
  older: "an older version is what it is; nothing is changed",
  shipped: "its id belongs to a sheet that comes with the app",
  wrong: "cannot be read",
};

const most = 1 << 20;

/** How many sheets go to the server at once. */
const atOnce = 60;

/** Sheets from files, many at once: what each is, before anything is stored. */
export function BringIn() {
  const client = useQueryClient();
  const [files, setFiles] = useState<Schemas["SheetFile"][]>([]);
  const [empty, setEmpty] = useState(false);
  const bring = useMutation({
    mutationFn: async ({ files, store }: { files: Schemas["SheetFile"][]; store: boolean }) => {
      const out: Schemas["BroughtSheet"][] = [];
      for (let i = 0; i < files.length; i += atOnce)
        out.push(...(await answer(api.POST("/sheet-imports", { body: { files: files.slice(i, i + atOnce), store, by: worker() } }))));
      return out;
    },
    onSuccess: (_, { store }) => store && client.invalidateQueries({ queryKey: unitsQuery.queryKey }),
  });
  const open = async (e: ChangeEvent<HTMLInputElement>) => {
    const read = await Promise.all(
      [...(e.target.files ?? [])]
        .filter((f) => /\.(ya?ml|json)$/i.test(f.name))
        .map(async (f) => ({
          name: f.webkitRelativePath || f.name,
          text: f.size > most ? "# larger than 1 MiB, not read" : await f.text(),
        })),
    );
    e.target.value = "";
    setFiles(read);
    setEmpty(read.length === 0);
    if (read.length > 0) bring.mutate({ files: read, store: false });
  };
  const found = bring.data ?? [];
  const fresh = found.filter((b) => !b.stored && (b.state === "new" || b.state === "next")).length;
  return (
    <Box>
      <Flex gap="3" wrap="wrap">
        {(
          [
            ["Read sheets from files", {}],
            ["Read a folder of sheets", { webkitdirectory: "" }],
          ] as const
        ).map(([word, folder]) => (
          <Button asChild key={word}>
            <label>
              {word}
              <input
                type="file"
                multiple
                accept=".yaml,.yml,.json"
                {...folder}
                onChange={(e) => void open(e)}
                style={{ position: "absolute", opacity: 0, width: 1 }}
              />
            </label>
          </Button>
        ))}
      </Flex>
      {empty && <Text role="status">No sheet among these files: a name that ends in .yaml, .yml or .json is one.</Text>}
      {bring.error && <Problem error={bring.error} />}
      {found.length > 0 && (
        <Box as="section" aria-label="Sheets from files" borderWidth="1px" borderColor="slate" bg="panel" p="4" my="3">
          {found.map((b) => (
            <Box key={b.file} borderTopWidth="1px" borderColor="line" py="2">
              <Flex gap="3" wrap="wrap" align="baseline">
                <Text fontWeight="700">{b.name || b.file}</Text>
                <Text color="ink2" textStyle="small">
                  {b.file}
                  {b.version > 0 && `, version ${b.version}`}
                </Text>
                <Text ml="auto" color={b.state === "wrong" ? "fault" : undefined}>
                  {b.state === "wrong" && "✕ "}
                  {b.stored ? "stored" : words[b.state]}
                </Text>
              </Flex>
              {b.problems.slice(0, 5).map((p) => (
                <Text key={p.path + p.reason} textStyle="small">
                  Line {p.line}: {p.reason}
                  {p.accepted && `. Accepted: ${p.accepted}`}
                </Text>
              ))}
              {b.differences.length > 0 && (
                <Disclosed title={`What it says otherwise: ${b.differences.length}`}>
                  {b.differences.slice(0, 60).map((d) => (
                    <Text key={d} textStyle="small">
                      {d}
                    </Text>
                  ))}
                </Disclosed>
              )}
            </Box>
          ))}
          {fresh > 0 && (
            <Button mt="2" variant="solid" loading={bring.isPending} onClick={() => bring.mutate({ files, store: true })}>
              Store {fresh} {fresh === 1 ? "sheet" : "sheets"}
            </Button>
          )}
        </Box>
      )}
    </Box>
  );
}
