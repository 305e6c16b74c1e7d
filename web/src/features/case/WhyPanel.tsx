import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { Link, useNavigate } from "react-router";
import type { Schemas } from "../../api/client";
import { explanationQuery } from "../../api/queries";
import { accessNames, knowledgePath, minutes, number, percent, signed } from "../../shared/format";
import { Loading, Problem } from "../../shared/states";
import { ChainFigure } from "./ChainFigure";
import { useCase } from "./useCase";

function Part({ title, children }: { title: string; children: ReactNode }) {
  return (
    <Box as="section" borderTopWidth="1px" borderColor="line" pt="3" mt="4" aria-label={title}>
      <Text as="h3" fontWeight="700" mb="1">
        {title}
      </Text>
      {children}
    </Box>
  );
}

/** Bars to the right speak for, hatched ones to the left against; the number says it too. */
export function WeightList({ items }: { items: Schemas["WeightedReading"][] }) {
  const most = Math.max(3, ...items.map((w) => Math.abs(w.weight)));
  return (
    <Box role="list">
      {items.map((w) => (
        <Flex key={w.id} role="listitem" align="center" gap="3" minH="30px">
          <Text flex="1" minW="0">
            {w.title}
          </Text>
          <Flex w="150px" flexShrink={0} aria-hidden>
            {[-1, 1].map((side) => (
              <Flex
                key={side}
                w="75px"
                justify={side < 0 ? "flex-end" : "flex-start"}
                borderLeftWidth={side > 0 ? "1px" : "0"}
                borderColor="slate"
              >
                {Math.sign(w.weight) === side && (
                  <span
                    className="weight-bar"
                    data-against={side < 0 ? "" : undefined}
                    style={{ width: Math.max(1, (Math.abs(w.weight) / most) * 72), height: 12 }}
                  />
                )}
              </Flex>
            ))}
          </Flex>
          <Text w="84px" textAlign="right" flexShrink={0}>
            {Math.abs(w.weight) < 0.05 ? "0.0" : signed(w.weight)} points
          </Text>
        </Flex>
      ))}
    </Box>
  );
}

function Separates({ contrast, open }: { contrast: Schemas["Contrast"]; open: (check: string, drive: boolean) => void }) {
  return (
    <Part title={`Why ${contrast.first}, and not ${contrast.second}?`}>
      {contrast.readings.length > 0 ? (
        <>
          <Text color="ink2" mb="1">
            Bars to the right point to the first, to the left to the second.
          </Text>
          <WeightList items={contrast.readings} />
        </>
      ) : (
        <Text>No reading so far tells the two apart. One is just more common.</Text>
      )}
      {contrast.check ? (
        <Box mt="2">
          <Text>
            <b>{contrast.title}</b> would: {minutes(contrast.minutes + contrast.climb)}
            {contrast.climb > 0 && `, with getting to ${accessNames[contrast.access]}`}. {contrast.says}
          </Text>
          <Button mt="2" onClick={() => open(contrast.check, contrast.drive)}>
            To this check
          </Button>
        </Box>
      ) : (
        <Text mt="2" color="ink2">
          No check that can be done would tell them apart.
        </Text>
      )}
    </Part>
  );
}

/** Everything that can be said about a suspect: its chain, what weighs, what separates it from the next. */
export function WhyPanel({ cause, back }: { cause: string; back: () => void }) {
  const { shown } = useCase();
  const navigate = useNavigate();
  const { data: x, error } = useQuery(explanationQuery(shown.id, cause, `${shown.rev} ${shown.trail.length} ${shown.suspicion.exact}`));
  const head = (
    <Button variant="ghost" px="0" onClick={back}>
      ← Back to the work
    </Button>
  );
  if (error)
    return (
      <Box>
        {head}
        <Problem error={error} />
      </Box>
    );
  if (!x) return <Loading what="the chain" />;
  const weighing = x.weights.filter((w) => Math.abs(w.weight) >= 0.05).sort((a, b) => b.weight - a.weight);
  const open = (check: string, drive: boolean) =>
    navigate(drive ? `/cases/${shown.id}/road` : `/cases/${shown.id}/checks?check=${encodeURIComponent(check)}`);
  return (
    <Box>
      {head}
      <Flex justify="space-between" align="baseline" gap="4">
        <Text as="h2" textStyle="heading" fontWeight="700">
          {x.title}
        </Text>
        <Text textStyle="figure" fontWeight="700" whiteSpace="nowrap">
          {percent(x.probability)} %
        </Text>
      </Flex>
      <Text color="ink2">
        {x.place === 1 ? "Leads" : `In place ${x.place}`}
        {x.exact ? ", exactly" : ", about"}. Met {x.met}, because {x.reason}.
      </Text>
      {x.sentences.length > 0 ? (
        <>
          <ChainFigure unit={shown.unit} chain={x} />
          <Box as="ul" pl="4" listStyleType="disc" textStyle="note">
            {x.sentences.map((s) => (
              <Box as="li" key={s} py="0.5">
                {s}
              </Box>
            ))}
          </Box>
        </>
      ) : (
        <Text mt="2">It explains none of the abnormal readings.</Text>
      )}
      {x.left.length > 0 && (
        <Text mt="2">
          <b>Left over:</b> {x.left.join("; ")}.
        </Text>
      )}
      {x.contrast && <Separates contrast={x.contrast} open={(c, drive) => void open(c, drive)} />}
      <Part title="How each reading points">
        <Text color="ink2" textStyle="small">
          Ten points make it ten times likelier.
        </Text>
        {weighing.length > 0 ? <WeightList items={weighing} /> : <Text color="ink2">No reading points to it or away from it yet.</Text>}
      </Part>
      {x.circumstances.length > 0 && (
        <Part title="Before any reading">
          {x.circumstances.map((c) => (
            <Text key={c.title}>
              {c.title}: {c.factor >= 1 ? `${number(c.factor, 1)} times likelier` : `${number(1 / c.factor, 1)} times less likely`}
              {c.why && `, because ${c.why}`}.
            </Text>
          ))}
        </Part>
      )}
      <Text mt="4" textStyle="small" color="ink2">
        {shown.surprise.limits}{" "}
        <Link to={knowledgePath(shown.unit, "cause", x.id)}>
          <u>Everything on file about it</u>
        </Link>
      </Text>
    </Box>
  );
}
