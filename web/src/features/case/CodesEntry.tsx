import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useState, type FormEvent } from "react";
import { ProblemError } from "../../api/client";
import { TextField } from "../../shared/fields";
import { useCase, useCaseStatus } from "./useCase";

/** The codes that a scan tool read, typed as they stand there; none is an answer too. */
export function CodesEntry() {
  const { shown, actions } = useCase();
  const { codes: status } = useCaseStatus();
  const [text, setText] = useState("");
  const problem = status.error instanceof ProblemError ? status.error.problem : undefined;
  const noted = shown.trail.filter((t) => t.code);
  const submit = (e: FormEvent) => {
    e.preventDefault();
    if (text.trim()) actions.codes.mutate({ codes: text }, { onSuccess: () => setText("") });
  };
  if (shown.closed) return null;
  return (
    <Box as="section" aria-label="Stored codes">
      <form onSubmit={submit}>
        <Flex gap="2" align="start" wrap="wrap">
          <Box flex="1" minW="220px">
            <TextField
              label="Stored codes"
              help="such as P0730 P0741, separated by spaces"
              maxLength={360}
              value={text}
              onChange={(e) => setText(e.target.value)}
              error={problem ? `${problem.detail}. Accepted: ${problem.accepted}` : undefined}
            />
          </Box>
          <Button mt="28px" type="submit" variant="solid" loading={status.isPending} disabled={!text.trim()}>
            Note them
          </Button>
          <Button mt="28px" onClick={() => actions.codes.mutate({ codes: "" })}>
            None is stored
          </Button>
        </Flex>
      </form>
      {noted.map((t) => (
        <Text key={t.id} mt="1">
          {t.title}: <b>{t.stateTitle}</b>
        </Text>
      ))}
    </Box>
  );
}
