import { Box, Button, Flex, Grid, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import type { Schemas } from "../../../api/client";
import { buildQuery } from "../../../api/queries";
import { amount } from "../../../shared/format";
import { Chip } from "../../../shared/Chip";
import { TextField } from "../../../shared/fields";
import { BoltFigure } from "../../../shared/stack/BoltFigure";
import type { Stack, StackPart } from "../../../shared/stack/layout";
import { PartFacts } from "../../../shared/stack/PartFacts";
import { Loading, Problem } from "../../../shared/states";
import { Table } from "../../../shared/Table";
import { useSingleKey } from "../../../shared/useSingleKey";
import { useCase } from "../useCase";
import { GaugeInHand } from "./GaugeInHand";
import { Measure } from "./Measure";
import { Plays } from "./Plays";

type Build = Schemas["Build"];
type Check = Schemas["BuildCheck"];

const works: [string, string][] = [
  ["clean", "clean"],
  ["reuse", "reuse"],
  ["machine", "machine"],
  ["renew", "renew"],
];

/** What threads are tightened with, as the instrument calls it. */
const lubes: Record<string, string> = { oil: "oil", "anti-seize": "anti-seize", locker: "lock" };

const signs: Record<string, string> = { done: "✓", signed: "✍", open: "○" };

/** One check of building: made with one press, or passed over with a reason; never silently. */
function CheckRow({ check, closed }: { check: Check; closed: boolean }) {
  const { actions } = useCase();
  const [why, setWhy] = useState<string | undefined>();
  const [value, setValue] = useState("");
  const asks = check.id.startsWith("torque") || check.id === "air" || check.id === "depth" || check.id === "gap" || check.id === "flushed";
  const note = (kind: string, more: { value?: string; words?: string }) =>
    actions.bench.mutate([{ kind, part: check.part, ref: check.id, ...more }]);
  return (
    <Box py="1.5" borderTopWidth="1px" borderColor="line">
      <Flex gap="2" align="baseline">
        <Text w="18px" flexShrink={0} aria-hidden>
          {signs[check.state]}
        </Text>
        <Box flex="1" minW="0">
          <Text>{check.title}</Text>
          {check.state !== "open" && (
            <Text textStyle="small" color="ink2">
              {check.state === "signed" ? `passed over: ${check.says}` : check.says || "done"}
            </Text>
          )}
        </Box>
      </Flex>
      {check.state === "open" && !closed && !check.id.startsWith("limit") && check.id !== "once" && (
        <Flex gap="1" mt="1" pl="26px" wrap="wrap" align="end">
          {asks && (
            <Box w="130px">
              <TextField
                label={check.id.startsWith("torque") ? "Read on the wrench" : "As read"}
                maxLength={60}
                value={value}
                onChange={(e) => setValue(e.target.value)}
              />
            </Box>
          )}
          <Button onClick={() => note("done", { value: value || undefined })} disabled={asks && !value.trim()}>
            Done
          </Button>
        </Flex>
      )}
      {check.state === "open" && !closed && (
        <Flex gap="1" pl="26px" wrap="wrap" align="end">
          {why === undefined ? (
            <Button variant="ghost" onClick={() => setWhy("")} aria-label={`Pass over, with a reason: ${check.title}`}>
              Pass over, because …
            </Button>
          ) : (
            <Flex as="form" gap="1" align="end" onSubmit={(e) => (e.preventDefault(), note("signed", { words: why }), setWhy(undefined))}>
              <TextField label="Reason, signed for" maxLength={400} value={why} onChange={(e) => setWhy(e.target.value)} />
              <Button type="submit" disabled={!why.trim()}>
                Sign
              </Button>
            </Flex>
          )}
        </Flex>
      )}
    </Box>
  );
}

/** The way to the torque that gives the same tension with other threads, filled in for these bolts. */
function otherLube(id: string, x: StackPart["bolts"][number]) {
  const given: Record<string, string> = {
    torque: x.torque.at(-1) ?? "",
    for: lubes[x.with] ?? "dry",
    diameter: `${x.thread.replace(/^M/, "")} mm`,
  };
  const query = new URLSearchParams({ case: id, ...Object.fromEntries(Object.entries(given).map(([k, v]) => [`with.${k}`, v])) });
  return `/instruments/torque-lubricant?${query.toString()}`;
}

/** Which sizes of a family the shop has: of these one is chosen. */
function OnShelf({ sizes, note }: { sizes: Schemas["BuildSize"][]; note: (value: string) => void }) {
  const toggle = (size: string) => {
    const on = sizes.filter((s) => (s.size === size ? !s.on : s.on));
    if (on.length > 0) note(on.map((s) => s.size).join("; "));
  };
  return (
    <Box mt="2">
      <Text textStyle="small" color="ink2" mb="1">
        On the shelf: press what is not there
      </Text>
      <Flex gap="1" wrap="wrap" role="group" aria-label="Sizes on the shelf">
        {sizes.map((s) => (
          <Chip key={s.size} type="button" aria-pressed={s.on} onClick={() => toggle(s.size)}>
            {s.size}
          </Chip>
        ))}
      </Flex>
    </Box>
  );
}

/** The part that goes back: what is done with it, checks before, sizes to choose from, bolts by stage. */
function PartBack({ stack, build, part }: { stack: Stack; build: Build; part: StackPart }) {
  const { shown, actions } = useCase();
  const b = build.parts.find((p) => p.id === part.id);
  const note = (n: { kind: string; ref?: string; value?: string }) => actions.bench.mutate([{ part: part.id, ...n }]);
  if (!b) return null;
  const before = b.checks.filter((c) => c.when === "before");
  const after = b.checks.filter((c) => c.when === "after");
  const limit = part.fit?.limit;
  const quick = before.filter((c) => c.state === "open" && c.id !== "once");
  return (
    <Box as="section" aria-label="Part that goes back" minW="0">
      <Text as="h2" textStyle="heading" fontWeight="700">
        {part.number} · {part.name}
      </Text>
      <Text color="ink2" mb="2">
        {b.built ? `back, as number ${b.built}` : b.handled ? "in the tray" : "never came out"}
        {part.ofNames.length > 0 && ` · ${part.ofNames.join(", ")}`}
        {b.price > 0 && ` · new ${amount(build.currency, b.price)}${b.from === "guide" ? ", guide" : ""}`}
      </Text>
      {!shown.closed && (
        <Flex gap="1" wrap="wrap" role="group" aria-label="What is done with it">
          {[...works, ...part.better.map((x): [string, string] => [`upgrade ${x.id}`, `upgrade: ${x.name}`])].map(([id, title]) => (
            <Chip key={id} type="button" aria-pressed={b.work === id} onClick={() => note({ kind: "renew", ref: id })}>
              {title}
            </Chip>
          ))}
        </Flex>
      )}
      {part.better.map((x) => (
        <Text key={x.id} textStyle="small" mt="1" color={b.work === `upgrade ${x.id}` ? "ink" : "ink2"}>
          {x.name}: {x.does.join("; ") || x.says}. {x.does.length > 0 && x.says}
        </Text>
      ))}
      {part.heed && (
        <Text borderLeftWidth="4px" borderColor="fault" px="3" py="1" mt="2">
          ⚠ {part.heed}
        </Text>
      )}
      {before.length > 0 && (
        <Flex justify="space-between" align="center" mt="3">
          <Text textStyle="small" color="ink2">
            Before it goes in
          </Text>
          {quick.length > 1 && !shown.closed && (
            <Button onClick={() => actions.bench.mutate(quick.map((c) => ({ kind: "done", part: part.id, ref: c.id })))}>
              All {quick.length} done
            </Button>
          )}
        </Flex>
      )}
      {before.map((c) => (
        <CheckRow key={c.id} check={c} closed={shown.closed} />
      ))}
      {limit && !shown.closed && (
        <Box mt="3">
          <GaugeInHand />
          <Text fontWeight="600">Select fit, {part.limits.find((l) => l.id === limit)?.window}</Text>
          <Grid templateColumns={{ base: "1fr", md: "1fr 1fr" }} gap="3">
            <Measure
              label="Thickness of the one that was in"
              kind="length"
              note={(value) => note({ kind: "size", ref: "height", value })}
            />
            <Measure label="Measured with it" kind="length" note={(value) => note({ kind: "size", ref: limit, value })} />
          </Grid>
          {b.shelf.length > 0 && (
            <OnShelf sizes={b.shelf} note={(value) => actions.bench.mutate([{ kind: "shelf", part: part.id, value }])} />
          )}
          {b.choices.length > 0 && (
            <Table
              label="Sizes, nearest to the middle of the window first"
              head={["Size", ">Gives", ""]}
              rows={b.choices
                .slice(0, 4)
                .map((c, i) => [
                  i === 0 ? <b key="s">{c.size}</b> : c.size,
                  c.gives,
                  c.verdict === "conforms" ? "✓ inside" : c.verdict === "cannot-tell" ? "at the edge" : `▲ ${c.verdict}`,
                ])}
            />
          )}
        </Box>
      )}
      {after.length > 0 && (
        <Text textStyle="small" color="ink2" mt="3">
          Once it is in
        </Text>
      )}
      {part.bolts.map((x, i) => (
        <Box key={i} mt="2">
          <BoltFigure bolts={x} />
          <Text textStyle="small">
            <Link to={otherLube(shown.id, x)}>
              <u>Threads otherwise than {x.with}? What torque gives the same tension</u>
            </Link>
          </Text>
        </Box>
      ))}
      {after.map((c) => (
        <CheckRow key={c.id} check={c} closed={shown.closed} />
      ))}
      <Box as="details" mt="3">
        <summary style={{ minHeight: 44, cursor: "pointer", fontWeight: 600 }}>What the sheet says of it</summary>
        <PartFacts part={part} of="in" nameOf={(id) => stack.parts.find((p) => p.id === id)?.name ?? id} />
      </Box>
    </Box>
  );
}

/** Building: the part that goes back next, what must be checked, and what is still open at the end. */
export function Building({ stack, selected, select }: { stack: Stack; selected: string; select: (id: string) => void }) {
  const { shown, actions } = useCase();
  const { data, error } = useQuery(buildQuery(shown.id, shown.rev));
  const id = selected || data?.next || data?.parts.find((p) => p.built)?.id || "";
  const part = stack.parts.find((p) => p.id === id);
  const b = data?.parts.find((p) => p.id === id);
  const ready = Boolean(b?.handled && !b.built && !b.keeps) && !shown.closed;
  const back = () => {
    if (!ready) return;
    actions.bench.mutate([{ kind: "in", part: id }]);
    select("");
  };
  useSingleKey("space", (e) => {
    if (!(e.target as HTMLElement).closest("button, a, summary, [role=button], input, select, textarea")) {
      e.preventDefault();
      back();
    }
  });
  if (error) return <Problem error={error} />;
  if (!data) return <Loading what="the building" />;
  if (data.of === 0) return <Text py="4">Nothing came out: there is nothing to put back.</Text>;
  const nameOf = (x: string) => stack.parts.find((p) => p.id === x)?.name ?? x;
  return (
    <Grid templateColumns={{ base: "minmax(0, 1fr)", lg: "minmax(0, 1fr) 360px" }} borderTopWidth="1px" borderColor="line">
      <Box py="3" pr={{ base: "0", lg: "5" }} minW="0">
        {part && <PartBack key={part.id} stack={stack} build={data} part={part} />}
      </Box>
      <Box py="3" pl={{ base: "0", lg: "4" }} borderLeftWidth={{ base: "0", lg: "1px" }} borderColor="line">
        <Text textStyle="figure" fontWeight="700">
          {data.back} of {data.of} back
        </Text>
        <Text color="ink2" mb="2">
          {data.next ? `Next by the order of building: ${nameOf(data.next)}` : "Everything that came out is back."}
        </Text>
        {b?.keeps && (
          <Text color="ink2" mb="2">
            Not yet: {b.keeps}.
          </Text>
        )}
        <Flex gap="2" wrap="wrap">
          <Button variant="solid" disabled={!ready} onClick={back}>
            {part?.number} goes in <kbd>space</kbd>
          </Button>
          {data.next && data.next !== id && (
            <Button variant="ghost" whiteSpace="normal" h="auto" py="2" textAlign="left" onClick={() => select("")}>
              To the next one
            </Button>
          )}
        </Flex>
        <Plays plays={data.plays} select={select} />
        <Box mt="4" as="section" aria-label="What is still open">
          <Text fontWeight="700">
            {data.finished ? "✓ Finished: everything is back and checked" : `Open: ${data.openParts} parts, ${data.open.length} checks`}
          </Text>
          {data.open
            .filter((c) => c.when !== "end")
            .slice(0, 12)
            .map((c) => (
              <button key={`${c.part} ${c.id}`} type="button" className="row-button" onClick={() => select(c.part)}>
                <Text textStyle="small" py="1">
                  ○ {nameOf(c.part)}: {c.title}
                </Text>
              </button>
            ))}
        </Box>
        {data.whole.length > 0 && (
          <Box mt="4" as="section" aria-label="At the end">
            <Text textStyle="small" color="ink2">
              At the end, for the unit as a whole
            </Text>
            {data.whole.map((c) => (
              <CheckRow key={c.id} check={c} closed={shown.closed} />
            ))}
          </Box>
        )}
      </Box>
    </Grid>
  );
}
