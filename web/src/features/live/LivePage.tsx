import { Box, Button, Flex, Grid, Text } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";
import { memo, useMemo, useState } from "react";
import { answer, api, type Schemas } from "../../api/client";
import { settingsQuery } from "../../api/queries";
import { Chip } from "../../shared/Chip";
import { Disclosed } from "../../shared/Disclosed";
import { number } from "../../shared/format";
import { Loading, Problem } from "../../shared/states";
import { Title } from "../../shared/Title";
import { pressure, pressureDigits } from "../shifts/traces";
import { CodesPanel } from "./CodesPanel";
import { ConnectForm } from "./ConnectForm";
import { Dial } from "./Dial";
import { DrivePanel } from "./DrivePanel";
import { RecordPanel } from "./RecordPanel";
import { Strips } from "./Strips";
import { useLive, type LiveState } from "./useLive";

/** So many dials stand above the traces: the speeds first. */
const dials = ["engine", "turbine", "output", "line"];

export function LivePage() {
  const { state, rows, latest, error, take, gone } = useLive();
  const { data: settings } = useQuery(settingsQuery);
  const unit = settings?.pressure ?? "kPa";
  const watched = useMemo(() => (state ? watchedOf(state, unit) : []), [state, unit]);
  return (
    <Box as="main" w="full" flex="1" display="flex" flexDir="column">
      <Title of="Live" />
      <Flex px={{ base: "3", md: "5" }} minH="56px" columnGap="4" align="center" wrap="wrap" borderBottomWidth="1px" borderColor="line">
        <Text as="h1" textStyle="title" fontWeight="700">
          Live
        </Text>
        {state && <Line s={state} gone={gone} />}
      </Flex>
      {error !== undefined && (
        <Box px="5">
          <Problem error={error} />
        </Box>
      )}
      {state === undefined && error === undefined && (
        <Box px="5">
          <Loading what="what is connected" />
        </Box>
      )}
      {state === null && (
        <Box px={{ base: "3", md: "5" }} py="4">
          <ConnectForm take={take} />
        </Box>
      )}
      {state && (
        <Grid templateColumns={{ base: "1fr", lg: "minmax(0, 1fr) 340px" }} flex="1">
          <Box minW="0" borderRightWidth={{ lg: "1px" }} borderColor="line">
            <Flex gap="2" px="3" py="2" wrap="wrap" justify="space-around">
              {dials.flatMap((id) => {
                const k = state.watched.indexOf(id);
                const c = watched[k];
                const v = latest?.[k];
                return !c ? [] : [<Dial key={id} channel={c} value={v === undefined ? undefined : v * c.factor} />];
              })}
            </Flex>
            <Strips rows={rows} channels={watched} now={latest} />
            <Box px={{ base: "3", md: "5" }} py="2" borderTopWidth="1px" borderColor="line">
              <Choose s={state} take={take} />
            </Box>
          </Box>
          <Grid templateColumns={{ base: "1fr", md: "1fr 1fr", lg: "1fr" }} alignContent="start" minW="0">
            <DrivePanel s={state} take={take} />
            <Box>
              <RecordPanel s={state} take={take} />
              <CodesPanel s={state} take={take} />
            </Box>
          </Grid>
        </Grid>
      )}
    </Box>
  );
}

/** A channel as the shop writes it: pressures in its own unit, with the factor from what is read. */
export function inShop(c: Schemas["LiveChannel"], unit: string) {
  if (c.unit !== "kPa" || unit === "kPa") return { ...c, factor: 1 };
  const factor = pressure(1, "kPa", unit);
  return {
    ...c,
    unit,
    factor,
    low: c.low * factor,
    high: Math.ceil((c.high * factor) / 50) * 50 || c.high * factor,
    decimals: pressureDigits(unit),
  };
}

const watchedOf = (s: LiveState, unit: string) =>
  s.watched.flatMap((id) => s.channels.filter((c) => c.id === id).map((c) => inShop(c, unit)));

/** How the line stands. */
function Line({ s, gone }: { s: LiveState; gone: () => void }) {
  const [sure, setSure] = useState(false);
  const leave = useMutation({
    mutationFn: (drop: boolean) => answer(api.DELETE("/live", { params: { query: { drop } } })),
    onSuccess: gone,
  });
  return (
    <>
      <Flex align="center" gap="2" minW="0" flex="1">
        <Box w="10px" h="10px" borderRadius="full" bg={s.connected ? "good" : "fault"} flexShrink={0} aria-hidden />
        <Text color="ink2" truncate role="status">
          {s.connected
            ? `Connected: stand-in for ${s.unitName} · ${s.number} · ${s.rate ? `${number(s.rate)} a second` : "…"}${s.again ? ` · ${s.again} asked again` : ""}`
            : `Not connected. ${s.lost}`}
        </Text>
      </Flex>
      {sure && s.recording ? (
        <Flex gap="2" align="center">
          <Text>The recording is lost.</Text>
          <Button onClick={() => leave.mutate(true)}>Disconnect</Button>
          <Button onClick={() => setSure(false)}>Stay</Button>
        </Flex>
      ) : (
        <Button onClick={() => (s.recording ? setSure(true) : leave.mutate(false))}>Disconnect</Button>
      )}
    </>
  );
}

/** Which channels are watched; what the vehicle does not have is said. */
const Choose = memo(function Choose({ s, take }: { s: LiveState; take: (s: LiveState) => void }) {
  const watch = useMutation({
    mutationFn: (channels: string[]) => answer(api.PUT("/live/channels", { body: { channels } })),
    onSuccess: take,
  });
  const missing = s.channels.filter((c) => c.missing);
  // Taps that come before the answer count on top of each other.
  const [asked, setAsked] = useState<string[]>();
  const chosen = asked ?? s.watched;
  const toggle = (id: string) => {
    const next = chosen.includes(id) ? chosen.filter((x) => x !== id) : [...chosen, id];
    setAsked(next);
    watch.mutate(next, { onSettled: () => setAsked((now) => (now === next ? undefined : now)) });
  };
  return (
    <Disclosed title={`Channels: ${s.watched.length} of ${s.channels.length - missing.length}`}>
      <Flex gap="1" wrap="wrap" role="group" aria-label="Channels">
        {s.channels
          .filter((c) => !c.missing)
          .map((c) => (
            <Chip key={c.id} type="button" aria-pressed={chosen.includes(c.id)} disabled={s.recording} onClick={() => toggle(c.id)}>
              {c.name}
            </Chip>
          ))}
      </Flex>
      {missing.length > 0 && (
        <Text textStyle="note" color="ink2" mt="2">
          This vehicle does not have: {missing.map((c) => `${c.name.toLowerCase()} (${c.missing})`).join(", ")}.
        </Text>
      )}
      {watch.error && <Problem error={watch.error} />}
    </Disclosed>
  );
});
