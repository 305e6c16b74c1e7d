import { Box, Button, Flex, Text, Textarea } from "@chakra-ui/react";
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { answer, api, type Schemas } from "../../api/client";
import { Labelled } from "../../shared/fields";
import { Problem } from "../../shared/states";
import { Title } from "../../shared/Title";

/** Is this record what the shop issued: by the digest at its foot, or by its open file. */
export function VerifyPage() {
  const [digest, setDigest] = useState("");
  const check = useMutation({ mutationFn: (body: Schemas["VerifyInput"]) => answer(api.POST("/verifications", { body })) });
  const v = check.data;
  const good = v?.whole && v.kept;
  return (
    <Box as="main" px={{ base: "3", md: "5" }} py="4" maxW="760px" w="full">
      <Title of="Verify a record" />
      <Text as="h1" textStyle="title" fontWeight="700">
        Verify a record
      </Text>
      <Text color="ink2" mb="4">
        A record is never changed once issued. Type the code at its foot, or open its file.
      </Text>
      <Labelled label="Digest (SHA-256)">
        <Textarea rows={2} maxLength={200} value={digest} onChange={(e) => setDigest(e.target.value)} />
      </Labelled>
      <Flex gap="3" mt="3">
        <Button variant="solid" disabled={!digest.trim()} loading={check.isPending} onClick={() => check.mutate({ digest })}>
          Find it
        </Button>
        <Button asChild>
          <label>
            Open its file
            <input
              type="file"
              accept=".json,application/json"
              style={{ position: "absolute", opacity: 0, width: 1 }}
              onChange={(e) => {
                void e.target.files?.[0]?.text().then((file) => check.mutate({ file }));
                e.target.value = "";
              }}
            />
          </label>
        </Button>
      </Flex>
      {check.error && <Problem error={check.error} />}
      {v && (
        <Box
          role="status"
          mt="4"
          px="4"
          py="3"
          bg={good ? "window" : "faultSoft"}
          borderLeftWidth="4px"
          borderColor={good ? "good" : "fault"}
        >
          <Text fontWeight="700">
            {good ? "✓ " : "✕ "}
            {v.says}
          </Text>
          {v.vehicle && <Text>{v.vehicle}</Text>}
          {v.case && (
            <Link to={`/cases/${v.case}/decision`}>
              <u>To its case</u>
            </Link>
          )}
        </Box>
      )}
    </Box>
  );
}
