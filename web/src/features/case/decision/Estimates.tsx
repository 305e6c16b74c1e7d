import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { approvalQuery, settingsQuery } from "../../../api/queries";
import { SelectField } from "../../../shared/fields";
import { moment, percent } from "../../../shared/format";
import { Problem } from "../../../shared/states";
import { useCase, useCaseStatus } from "../useCase";
import type { Deal } from "./useDeal";
import { useMay } from "../../../shared/session";

const hows: Record<string, string> = { "in-person": "in person", phone: "by phone", signed: "signed", link: "by the link" };
const states: Record<string, string> = {
  open: "waits for an answer",
  answered: "✓ answered",
  expired: "✕ ended",
  replaced: "replaced by a later one, or answered in another way",
};

/** What became of an estimate that may still be answered: whether it holds is worked out when it is looked at. */
function OpenState({ token, rev }: { token: string; rev: number }) {
  const { data } = useQuery(approvalQuery(token, rev));
  const stale = data?.state === "stale";
  return (
    <Text as="span" fontWeight="700" color={stale ? "fault" : undefined}>
      {stale ? "✕ no longer holds: readings or prices changed" : states.open}
    </Text>
  );
}

/** An estimate put before the customer: a private link that ends, or this very tablet. */
export function Estimates({ deal }: { deal: Deal }) {
  const { shown, actions } = useCase();
  const status = useCaseStatus();
  const [hours, setHours] = useState("48");
  const [copied, setCopied] = useState("");
  const { data: settings } = useQuery(settingsQuery);
  // The customer’s page may have an address of its own: the shop’s own pages are then out of reach from there.
  const link = (token: string) => `${settings?.customers || window.location.origin}/a/${token}`;
  return (
    <Box as="section" aria-label="Estimate for the customer" mt="5">
      <Text as="h3" fontWeight="700" mb="1">
        Let the customer answer
      </Text>
      <Text color="ink2" mb="2">
        The options as they stand, frozen, by a private link on the shop’s network or on this tablet. When readings or prices change what it
        rests on, it can no longer be approved.
      </Text>
      {!shown.closed && (
        <Flex gap="3" align="end" wrap="wrap">
          <Box w="180px">
            <SelectField
              label="The link ends after"
              value={hours}
              onChange={(e) => setHours(e.target.value)}
              options={[
                ["4", "4 hours"],
                ["24", "a day"],
                ["48", "two days"],
                ["168", "a week"],
              ]}
            />
          </Box>
          <Button
            loading={status.estimate.isPending}
            onClick={() => actions.estimate.mutate({ hours: Number(hours), quality: deal.quality, set: deal.estimated })}
          >
            Make the link
          </Button>
        </Flex>
      )}
      {status.estimate.isError && <Problem error={status.estimate.error} />}
      {shown.estimates.map((e) => (
        <Flex
          key={e.id}
          borderTopWidth="1px"
          borderColor="line"
          mt="2"
          pt="2"
          gap="3"
          align="center"
          justify="space-between"
          wrap="wrap"
          opacity={e.state === "open" ? 1 : 0.75}
        >
          <Box>
            <Text>
              {e.state === "open" ? (
                e.token ? (
                  <OpenState token={e.token} rev={shown.rev} />
                ) : (
                  <b>{states.open}</b>
                )
              ) : (
                <b>{states[e.state] ?? e.state}</b>
              )}{" "}
              · until {moment(e.expires)}
              {e.by && ` · ${e.by}`}
            </Text>
            {e.state === "open" && e.token && (
              <Text textStyle="small" color="ink2" wordBreak="break-all">
                {link(e.token)}
              </Text>
            )}
          </Box>
          {e.state === "open" && e.token && (
            <Flex gap="2">
              <Button onClick={() => void navigator.clipboard?.writeText(link(e.token)).then(() => setCopied(e.id))}>
                {copied === e.id ? "Copied" : "Copy the link"}
              </Button>
              <Button asChild>
                <a href={`/a/${e.token}`} target="_blank" rel="noreferrer">
                  Open it on this tablet
                </a>
              </Button>
            </Flex>
          )}
        </Flex>
      ))}
    </Box>
  );
}

/** What was agreed on and declined, here and at the visit before. */
export function Recorded() {
  const { shown, actions } = useCase();
  const maySign = useMay("sign");
  const before = shown.earlier?.declined ?? [];
  if (shown.decisions.length === 0 && before.length === 0) return null;
  return (
    <Box as="section" aria-label="Recorded decisions" mt="5">
      <Text as="h3" fontWeight="700" mb="1">
        Recorded
      </Text>
      {shown.decisions.map((d) => (
        <Flex key={d.id} borderTopWidth="1px" borderColor="line" py="2" justify="space-between" gap="4" wrap="wrap" align="center">
          <Text>
            <b>
              {d.choice === "accepted" ? "Agreed" : "Declined"}: {[d.title, ...d.addOns].join(", with ")}
            </b>{" "}
            · {[d.name, hows[d.how]].filter(Boolean).join(", ")}
            {(d.name || d.how) && " · "}
            {d.root} {percent(d.rootShare)} %{d.words && ` · “${d.words}”`}
            {d.countersigned && ` · countersigned by ${d.countersigned}`}
          </Text>
          {d.waiting && (
            <Flex align="center" gap="3">
              <Text color="fault" fontWeight="600">
                {d.by} noted it: waits for a countersign
              </Text>
              {maySign && <Button onClick={() => actions.countersign.mutate(d.id)}>Countersign</Button>}
            </Flex>
          )}
        </Flex>
      ))}
      {before.map((title) => (
        <Text key={title} borderTopWidth="1px" borderColor="line" py="2">
          <b>Declined at the visit before: {title}.</b> It comes up again.
        </Text>
      ))}
    </Box>
  );
}
