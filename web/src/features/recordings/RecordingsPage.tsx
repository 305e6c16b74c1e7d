import { Box, Flex, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { AudioLines, Table2 } from "lucide-react";
import { Link, useSearchParams } from "react-router";
import type { Schemas } from "../../api/client";
import { caseQuery } from "../../api/queries";
import { recordingsQuery } from "../../api/recordings";
import { age, quoted } from "../../shared/format";
import { Empty, Loading, Problem } from "../../shared/states";
import { Title } from "../../shared/Title";
import { BringIn } from "./BringIn";
import { length, rateWord } from "./words";

function Row({ r }: { r: Schemas["RecordingItem"] }) {
  const Icon = r.kind === "sound" ? AudioLines : Table2;
  return (
    <Link to={`/recordings/${r.id}`}>
      <Flex borderTopWidth="1px" borderColor="line" py="3" minH="64px" gap="4" align="center" _hover={{ bg: "brassSoft" }} px="2">
        <Icon size={20} aria-label={r.kind === "sound" ? "sound" : "table"} style={{ flexShrink: 0 }} />
        <Box flex="1 1 320px" minW="0">
          <Text textStyle="subheading" fontWeight="700" truncate>
            {r.title}
          </Text>
          <Text color="ink2" truncate>
            {[r.vehicle || "no vehicle yet", r.unitName, r.rangeName].filter(Boolean).join(" · ")}
          </Text>
        </Box>
        <Text flex="0 1 300px" color="ink2" textStyle="note" lineClamp="2" display={{ base: "none", md: "block" }}>
          {r.channels.slice(0, 6).join(", ")}
          {r.channels.length > 6 && ` and ${r.channels.length - 6} more`}
        </Text>
        <Box w="116px" textAlign="right" flexShrink={0}>
          <Text fontWeight="600">{length(r.seconds)}</Text>
          <Text color="ink2" textStyle="small">
            {rateWord(r.rate)}
          </Text>
        </Box>
        <Text w="84px" whiteSpace="nowrap" textAlign="right" color="ink2" textStyle="small" flexShrink={0}>
          {age(r.at)} ago
        </Text>
      </Flex>
    </Link>
  );
}

/** What was recorded on drives, the latest first; of one case when the address says so. */
export function RecordingsPage() {
  const [params] = useSearchParams();
  const of = params.get("case") ?? "";
  const { data, error, refetch } = useQuery(recordingsQuery(of));
  const about = useQuery({ ...caseQuery(of), enabled: of !== "" });
  return (
    <Box as="main" px={{ base: "3", md: "5" }} py="4" w="full">
      <Title of="Recordings" />
      <Text as="h1" textStyle="title" fontWeight="700">
        Recordings
      </Text>
      {about.data && (
        <Text mb="1">
          Of <Link to={`/cases/${of}`}>{about.data.vehicle}</Link>, {quoted(about.data.words)} ·{" "}
          <Link to="/recordings">all recordings</Link>
        </Text>
      )}
      <Text color="ink2" mb="3">
        Drives of a scan tool or a logger, and sound: looked at, marked, and heard for what turns.
      </Text>
      <BringIn said={{ case: of }} />
      <Box mt="5">
        {error && <Problem error={error} retry={() => void refetch()} />}
        {!data && !error && <Loading what="recordings" />}
        {data?.length === 0 && (
          <Empty title="Nothing is recorded yet">
            Save a drive from the scan tool as a table, with a column of times. Or put a phone on the seat rail and bring in its file.
          </Empty>
        )}
        {data?.map((r) => (
          <Row key={r.id} r={r} />
        ))}
      </Box>
    </Box>
  );
}
