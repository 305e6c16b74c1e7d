import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useState, useSyncExternalStore } from "react";
import { Link } from "react-router";
import { outbox, type Waiting } from "../api/outbox";
import { clock } from "../shared/format";
import { useWaiting } from "../shared/useWaiting";

function Entry({ e, me }: { e: Waiting; me: string }) {
  const c = e.conflict;
  return (
    <Flex as="li" align="center" gap="4" borderTopWidth="1px" borderColor="line" py="2" wrap="wrap" listStyleType="none">
      <Box flex="1" minW="240px">
        <Text fontWeight="600">
          {e.label}, {clock(new Date(e.at).toISOString())} · <Link to={`/cases/${e.caseId}`}>its case</Link>
        </Text>
        {c ? (
          <Text color="fault">
            ▲ {c.finding}: yours says “{c.mine}”. {c.by || "Somebody"} noted “{c.theirs}” at {clock(c.at)} meanwhile.
          </Text>
        ) : e.refused ? (
          <Text color="fault">
            ✕ Not taken: {e.refused.detail ?? e.refused.title}
            {e.refused.accepted && `. Accepted: ${e.refused.accepted}`}
          </Text>
        ) : (
          <Text color="ink2">{e.person && e.person !== me ? "waits until whoever noted it signs in" : "waits for the server"}</Text>
        )}
      </Box>
      {c && <Button onClick={() => outbox.send(e.key)}>Send mine</Button>}
      {c && <Button onClick={() => outbox.drop(e.key)}>Keep theirs</Button>}
      {e.refused && <Button onClick={() => outbox.send(e.key)}>Try again</Button>}
      {e.refused && <Button onClick={() => outbox.drop(e.key)}>Drop it</Button>}
    </Flex>
  );
}

/** What was noted here and the server does not have yet: as long as there is any, it is on the screen. */
export function WaitingHere({ me, away }: { me: string; away: boolean }) {
  const list = useWaiting();
  const stuck = useSyncExternalStore(outbox.subscribe, outbox.isStuck);
  const [open, setOpen] = useState(false);
  if (list.length === 0) return null;
  const asks = list.filter((e) => e.conflict || e.refused).length;
  return (
    <Box
      as="section"
      aria-label="Waiting on this device"
      position="sticky"
      bottom="0"
      zIndex="10"
      bg="panel"
      borderTopWidth="3px"
      borderColor={asks ? "fault" : "brass"}
      px={{ base: "3", md: "5" }}
      py="1"
      data-noprint
    >
      <Flex align="center" gap="4" minH="48px">
        <Text role="status" fontWeight="700">
          {asks > 0
            ? `▲ ${asks} of ${list.length} ask for a decision`
            : `${list.length} ${list.length === 1 ? "note waits" : "notes wait"} on this device`}
        </Text>
        <Text color="ink2" display={{ base: "none", md: "block" }}>
          {away || stuck ? "Sent by themselves when the server is back. You can go on." : "Being sent."}
        </Text>
        {asks === 0 && (
          <Button ml="auto" aria-expanded={open} onClick={() => setOpen(!open)}>
            {open ? "Hide" : "Show"}
          </Button>
        )}
      </Flex>
      {(open || asks > 0) && (
        <Box as="ul" maxH="40vh" overflowY="auto">
          {list.map((e) => (
            <Entry key={e.key} e={e} me={me} />
          ))}
        </Box>
      )}
    </Box>
  );
}
