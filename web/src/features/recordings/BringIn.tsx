import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useQueryClient } from "@tanstack/react-query";
import { useRef, useState, type DragEvent } from "react";
import { Link, useNavigate } from "react-router";
import { bringRecording, type Brought } from "../../api/recordings";
import { Problem } from "../../shared/states";
import { worker } from "../../shared/worker";

interface Sending {
  name: string;
  share: number;
  stop: AbortController;
}

/** Brings files in, one after the other, with how far each is and a way to stop. What is not whole is not kept. */
export function useBringing(said: Omit<Brought, "file">) {
  const client = useQueryClient();
  const navigate = useNavigate();
  const [sending, setSending] = useState<Sending>();
  const [wrong, setWrong] = useState<{ name: string; error: unknown }[]>([]);
  const busy = useRef(false);
  const bring = async (files: { name: string; body: Blob; said?: Partial<Brought> }[]) => {
    if (busy.current) return;
    busy.current = true;
    setWrong([]);
    const kept: string[] = [];
    for (const f of files) {
      const stop = new AbortController();
      setSending({ name: f.name, share: 0, stop });
      try {
        const at = (share: number) => setSending({ name: f.name, share, stop });
        kept.push((await bringRecording({ by: worker(), ...said, file: f.name, ...f.said }, f.body, at, stop.signal)).id);
      } catch (error) {
        if (!(error instanceof DOMException)) setWrong((w) => [...w, { name: f.name, error }]);
      }
    }
    setSending(undefined);
    busy.current = false;
    await client.invalidateQueries({ queryKey: ["recordings"] });
    if (kept.length === 1 && files.length === 1) void navigate(`/recordings/${kept[0]}`);
  };
  return { bring, sending, wrong };
}

/** How far a file is, and what was wrong with others. */
export function Bringing({ sending, wrong }: Pick<ReturnType<typeof useBringing>, "sending" | "wrong">) {
  return (
    <>
      {sending && (
        <Flex role="status" align="center" gap="4" py="2" borderTopWidth="1px" borderColor="line">
          <Text minW="0" flex="1" truncate>
            {sending.share < 1 ? "Sending" : "Reading"} {sending.name}
          </Text>
          <Box w="200px" h="8px" bg="line" aria-hidden>
            <Box h="full" bg="brass" w={`${Math.round(100 * sending.share)}%`} />
          </Box>
          <Text w="48px" textAlign="right">
            {Math.round(100 * sending.share)} %
          </Text>
          <Button onClick={() => sending.stop.abort()}>Stop</Button>
        </Flex>
      )}
      {wrong.map((w) => (
        <Box key={w.name}>
          <Text fontWeight="600">{w.name} was not taken</Text>
          <Problem error={w.error} />
        </Box>
      ))}
    </>
  );
}

/** A place to drop files on, and a button that asks for them. */
export function BringIn({ said }: { said: Omit<Brought, "file"> }) {
  const { bring, sending, wrong } = useBringing(said);
  const [over, setOver] = useState(false);
  const take = (list: FileList | null) => void bring([...(list ?? [])].map((f) => ({ name: f.name, body: f })));
  const drop = (e: DragEvent) => {
    e.preventDefault();
    setOver(false);
    take(e.dataTransfer.files);
  };
  return (
    <Box
      onDragOver={(e) => (e.preventDefault(), setOver(true))}
      onDragLeave={() => setOver(false)}
      onDrop={drop}
      bg={over ? "brassSoft" : undefined}
    >
      <Flex align="center" gap="3" wrap="wrap">
        <Button asChild variant="solid">
          <label>
            Bring in a recording
            <input
              type="file"
              multiple
              accept=".csv,.txt,.tsv,.wav,.gz,text/csv,audio/wav"
              onChange={(e) => {
                take(e.target.files);
                e.target.value = "";
              }}
              style={{ position: "absolute", opacity: 0, width: 1 }}
            />
          </label>
        </Button>
        <Button asChild>
          <Link to={`/recordings/new${said.case ? `?case=${said.case}` : ""}`}>Record here</Link>
        </Button>
        <Button asChild>
          <Link to="/live">Connect a vehicle</Link>
        </Button>
        <Text color="ink2" textStyle="note">
          A table of any layout, or sound as WAV; packed by gzip or not. Drop files here, too.
        </Text>
      </Flex>
      <Bringing sending={sending} wrong={wrong} />
    </Box>
  );
}
