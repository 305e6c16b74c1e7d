import { Box, Button, Flex, Text, Textarea } from "@chakra-ui/react";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { answer, api, type Schemas } from "../../api/client";
import { shopKeyQuery } from "../../api/queries";
import { moment } from "../../shared/format";
import { Labelled } from "../../shared/fields";
import { Section } from "../../shared/Section";
import { useMay } from "../../shared/session";
import { ShopPlaces } from "../../shared/ShopPlaces";
import { Problem } from "../../shared/states";
import { Title } from "../../shared/Title";

/** A file as the server takes it. */
function encoded(file: File) {
  return new Promise<string>((done, failed) => {
    const reader = new FileReader();
    reader.onload = () => done(String(reader.result).replace(/^[^,]*,/, ""));
    reader.onerror = () => failed(reader.error ?? new Error("The file cannot be read"));
    reader.readAsDataURL(file);
  });
}

/** Is this record what the shop issued: by the digest at its foot, or by its open file. */
export function VerifyPage() {
  const [digest, setDigest] = useState("");
  const check = useMutation({ mutationFn: (body: Schemas["VerifyInput"]) => answer(api.POST("/verifications", { body })) });
  const v = check.data;
  const good = v?.genuine;
  return (
    <Box as="main" px={{ base: "3", md: "5" }} py="4" maxW="1180px" w="full">
      <Title of="Verify a record" />
      <ShopPlaces title="Verify a record" />
      <Text color="ink2" mb="4">
        A record is never changed once issued, and carries the shop’s signature. Type the code at its foot, or open its page, PDF or file.
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
              accept=".json,.html,.pdf,application/json,text/html,application/pdf"
              style={{ position: "absolute", opacity: 0, width: 1 }}
              onChange={(e) => {
                const file = e.target.files?.[0];
                if (file) void encoded(file).then((document) => check.mutate({ document }));
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
      <Keys />
    </Box>
  );
}

/** The shop's keys: what its records are checked with elsewhere, and the way to another. */
function Keys() {
  const client = useQueryClient();
  const { data } = useQuery(shopKeyQuery);
  const may = useMay("manage");
  const [sure, setSure] = useState(false);
  const rotate = useMutation({
    mutationFn: () => answer(api.POST("/shop-key")),
    onSuccess: (now) => {
      client.setQueryData(shopKeyQuery.queryKey, now);
      setSure(false);
    },
  });
  return (
    <Section
      id="keys"
      title="The shop’s keys"
      about="Whoever has them tells a genuine record from a forged one, with no network: innercompass record verify FILE --keys."
    >
      {data?.keys.map((k) => (
        <Box key={k.id} borderTopWidth="1px" borderColor="line" py="2">
          <Text>
            <b>Key {k.id}</b> · {k.until ? `${moment(k.from)} to ${moment(k.until)}` : `in use since ${moment(k.from)}`}
          </Text>
          <Text color="ink2" textStyle="small" wordBreak="break-all">
            {k.fingerprint}
          </Text>
        </Box>
      ))}
      <Flex gap="3" mt="3" wrap="wrap" align="center">
        <Button asChild>
          <a href="/api/shop-key" download="shop-keys.json">
            Save the keys
          </a>
        </Button>
        {may && !sure && <Button onClick={() => setSure(true)}>Begin another key</Button>}
        {sure && (
          <>
            <Text>The key in use is destroyed. What it signed stays good.</Text>
            <Button variant="solid" loading={rotate.isPending} onClick={() => rotate.mutate()}>
              Begin another
            </Button>
            <Button variant="ghost" onClick={() => setSure(false)}>
              Keep it
            </Button>
          </>
        )}
      </Flex>
      {rotate.error && <Problem error={rotate.error} />}
    </Section>
  );
}
