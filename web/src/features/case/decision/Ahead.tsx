import { Box, Flex, Text } from "@chakra-ui/react";
import type { ReactNode } from "react";
import type { Schemas } from "../../../api/client";
import { percent, roughly } from "../../../shared/format";
import { NumberField } from "../../../shared/NumberField";
import { Table } from "../../../shared/Table";
import type { Deal } from "./useDeal";

const Figure = ({ children }: { children: ReactNode }) => (
  <Box as="span" whiteSpace="nowrap">
    {children}
  </Box>
);

/** What is worth doing in time is marked by a word, not by colour alone. */
function verdict(p: Schemas["Prevention"], currency: string) {
  if (!p.priced) return "without a price";
  if (!p.due) return "can wait";
  return (
    <b>
      do it now, saves <Figure>{roughly(currency, p.saves)}</Figure>
    </b>
  );
}

/** What the design is known for and may still come: now against later. */
export function Ahead({ data, deal }: { data: Schemas["Options"]; deal: Deal }) {
  const { ahead, currency } = data;
  if (ahead.length === 0 && !data.quiet) return null;
  return (
    <Box as="section" aria-label="Before it fails" mt="5">
      <Flex justify="space-between" gap="4" align="end" wrap="wrap" mb="1">
        <Box flex="1 1 320px">
          <Text as="h3" fontWeight="700">
            Before it fails
          </Text>
          <Text color="ink2">What this design is known for and has not shown yet, over the next {data.aheadOf}.</Text>
        </Box>
        <Box w="170px">
          <NumberField
            kind="distance"
            label="Look ahead"
            placeholder={data.aheadOf}
            maxLength={40}
            value={deal.ahead}
            onChange={(e) => deal.setAhead(e.target.value)}
          />
        </Box>
      </Flex>
      {ahead.length === 0 ? (
        <Text>No known failures ahead for this design, or no distance noted.</Text>
      ) : (
        <Table
          label="What may come"
          head={["may come", ">chance", "repaired by", ">now", ">later, in the mean", "so"]}
          rows={ahead.map((p) => [
            <>
              <b>{p.title}</b>
              <Text color="ink2" textStyle="small">
                most between {p.window}
                {p.note && ` · ${p.note}`}
              </Text>
            </>,
            `${percent(p.chance)} %`,
            <>
              {p.optionTitle}
              {p.open && (
                <Text color="ink2" textStyle="small">
                  open for it already
                </Text>
              )}
            </>,
            <Figure key="now">{roughly(currency, p.now)}</Figure>,
            <>
              <Figure>{roughly(currency, p.expected)}</Figure>
              <Text color="ink2" textStyle="small" whiteSpace="nowrap">
                {roughly(currency, p.later)} if it comes
              </Text>
            </>,
            verdict(p, currency),
          ])}
          note={data.aheadRests}
        />
      )}
    </Box>
  );
}
