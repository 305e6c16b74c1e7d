import { Box, Flex, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Link } from "react-router";
import { NumberField } from "../../../shared/NumberField";
import { percent, roughly } from "../../../shared/format";
import { Loading, Problem } from "../../../shared/states";
import { RootOpen } from "../RootOpen";
import { useCase } from "../useCase";
import { Ahead } from "./Ahead";
import { Choose } from "./Choose";
import { Estimates, Recorded } from "./Estimates";
import { Lines, SideBySide } from "./Lines";
import { OptionRow } from "./OptionRow";
import { Records } from "./Records";
import { Policies, Turns, WatchPanel } from "./Turns";
import { useDeal } from "./useDeal";

/** Options on one money axis, what they are made of, what would turn their order, and what the customer said. */
export function DecisionStage() {
  const { shown } = useCase();
  const deal = useDeal();
  const [compared, setCompared] = useState<string[]>([]);
  const { data, error, refetch, row } = deal;
  if (!data && error) return <Problem error={error} retry={() => void refetch()} />;
  if (!data) return <Loading what="the options" />;
  const leader = shown.suspects[0];
  const most = Math.max(...data.rows.map((r) => Math.max(r.high, r.expected)), 1);
  const two = compared.flatMap((id) => data.rows.find((r) => r.id === id) ?? []);
  const compare = (id: string) => setCompared((old) => (old.includes(id) ? old.filter((o) => o !== id) : [...old.slice(-1), id]));
  return (
    <Box>
      <RootOpen />
      <Flex justify="space-between" gap="4" align="end" wrap="wrap" mb="3">
        <Box flex="1 1 320px">
          <Text as="h2" textStyle="figure" fontWeight="700">
            {data.headline}
          </Text>
          <Text color="ink2">
            {data.quiet
              ? "No complaint, and nothing abnormal was read: no repair is sold. What is due is listed below."
              : `Leading suspect: ${leader?.title}, ${percent(leader?.probability ?? 0)} % · lowest expected cost first · ${shown.surprise.limits}`}
          </Text>
          {data.first && (
            <Text mt="1">
              <b>Before deciding:</b>{" "}
              <Link to={`/cases/${shown.id}/checks?check=${data.first.check}`}>
                <u>{data.first.title}</u>
              </Link>{" "}
              would save about {roughly(data.currency, data.first.saves)} in expectation.
            </Text>
          )}
        </Box>
        <Box w="150px">
          <NumberField
            kind="money"
            label={`Ceiling, ${data.currency}`}
            placeholder="none"
            maxLength={40}
            value={deal.ceiling}
            onChange={(e) => deal.setCeiling(e.target.value)}
          />
        </Box>
      </Flex>
      {error && <Problem error={error} />}
      <Box role="radiogroup" aria-label="Repair options">
        {data.rows.map((r, i) => (
          <OptionRow
            key={r.id}
            row={r}
            first={i === 0 && r.able}
            most={most}
            currency={data.currency}
            ceiling={data.ceiling}
            picked={r.id === row?.id}
            pick={() => deal.pick(r.id)}
            compared={compared.includes(r.id)}
            compare={() => compare(r.id)}
            setQuality={(q) => deal.setQuality(r.id, q)}
            quiet={data.quiet}
          />
        ))}
      </Box>
      {data.refused.length > 0 && (
        <Box mt="3">
          <Text color="ink2" textStyle="small" fontWeight="600">
            Not offered
          </Text>
          {data.refused.map((r) => (
            <Text key={r.id} textStyle="small">
              <b>{r.title}.</b> {r.why}
            </Text>
          ))}
        </Box>
      )}
      {data.sentence && (
        <Text mt="3" fontWeight="600">
          {data.sentence}
        </Text>
      )}
      {data.quiet && <Ahead data={data} deal={deal} />}
      {two.length === 2 && <SideBySide a={two[0]!} b={two[1]!} currency={data.currency} />}
      {row && (
        <Lines row={deal.addOns.length > 0 && deal.visit ? deal.visit : row} currency={data.currency} taxRate={data.taxRate} deal={deal} />
      )}
      {row && !shown.closed && <Choose row={row} data={data} deal={deal} />}
      <Recorded />
      {!data.quiet && <Turns data={data} deal={deal} />}
      {!data.quiet && <Policies data={data} pick={deal.pick} />}
      {!data.quiet && <WatchPanel data={data} />}
      {!data.quiet && <Ahead data={data} deal={deal} />}
      <Estimates deal={deal} />
      <Records />
    </Box>
  );
}
