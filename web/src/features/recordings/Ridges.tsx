import { Box, Flex, Grid, Text } from "@chakra-ui/react";
import type { Orders } from "../../api/recordings";
import { Chip } from "../../shared/Chip";
import { number, percent, short } from "../../shared/format";

const head = (title: string, right?: string) => (
  <Flex justify="space-between" textStyle="small" color="ink2" fontWeight="600">
    <Text>{title}</Text>
    {right && <Text fontWeight="400">{right}</Text>}
  </Flex>
);

/** The order that was measured, with its bound; the other ridges beside it. */
export function Ridges({ o, at, choose }: { o: Orders; at: number; choose: (i: number) => void }) {
  const r = o.ridges[at];
  if (!r)
    return (
      <Box px="4" py="3" borderBottomWidth="1px" borderColor="line">
        {head("Measured order")}
        <Text textStyle="heading" fontWeight="700">
          None
        </Text>
        <Text color="ink2">No line stands out of the noise. Try the other channel, the other band, or a longer drive.</Text>
      </Box>
    );
  const bound = r.order * Math.hypot(r.sd, o.doubt) * 2;
  return (
    <Box px="4" py="3" borderBottomWidth="1px" borderColor="line">
      {head("Measured order", "of the output shaft")}
      <Flex align="baseline" gap="2">
        <Text fontSize="40px" fontWeight="700" lineHeight="1.15">
          {number(r.order, r.order < 10 ? 3 : 2)}
        </Text>
        <Text textStyle="figure" color="ink2">
          ± {number(bound, r.order < 10 ? 3 : 2)}
        </Text>
      </Flex>
      <Text color="ink2" textStyle="note">
        {r.words} {o.doubt > 0.003 && `The speed is known to ${short(100 * o.doubt, 1)} %.`}
      </Text>
      {o.ridges.length > 1 && (
        <Flex role="group" aria-label="Ridges" gap="1" mt="2" wrap="wrap">
          {o.ridges.map((x, i) => (
            <Chip key={i} type="button" aria-pressed={i === at} onClick={() => choose(i)}>
              {short(x.order, 2)}
              {x.drive > 0 && " ′"}
            </Chip>
          ))}
        </Flex>
      )}
      {o.other && (
        <Text textStyle="note" mt="1">
          Weighed with {o.other}; its ridges have a ′.
        </Text>
      )}
    </Box>
  );
}

const listed = 5;

/** What the ridge could be: all of it, with what is unknown, makes 100. */
export function Could({ o, at }: { o: Orders; at: number }) {
  const r = o.ridges[at];
  if (!r) return null;
  const shown = r.could.slice(0, listed);
  const rest = 1 - r.unknown - shown.reduce((sum, c) => sum + c.probability, 0);
  const rows = [
    ...shown.map((c, i) => ({
      key: String(c.class),
      name: `${c.multiple > 1 ? `${c.multiple}× ` : ""}${o.sources[c.class]?.name ?? ""}`,
      note: c.probability > 0.02 ? `fits within ${short(100 * Math.abs(c.off), 1)} %` : "",
      p: c.probability,
      rank: i,
    })),
    ...(rest > 0.005 ? [{ key: "rest", name: "All others", note: "", p: rest, rank: 9 }] : []),
    { key: "unknown", name: "Nothing in the list", note: "", p: r.unknown, rank: 9 },
  ];
  return (
    <Box as="section" aria-label="What it could be" px="4" py="3" borderBottomWidth="1px" borderColor="line">
      {head("What it could be", "sum 100")}
      {rows.map((w) => (
        <Grid key={w.key} templateColumns="minmax(0, 1fr) 84px 62px" gap="3" alignItems="center" py="1.5">
          <Box>
            <Text fontWeight={w.rank < 2 ? "700" : "400"} lineHeight="1.2">
              {w.name.charAt(0).toUpperCase() + w.name.slice(1)}
            </Text>
            {w.note && (
              <Text textStyle="fine" color="ink2">
                {w.note}
              </Text>
            )}
          </Box>
          <Box h="7px" bg="line" aria-hidden>
            <Box
              h="full"
              w={`${Math.round(100 * w.p)}%`}
              bg={w.rank === 0 ? "brass" : w.rank === 1 ? undefined : "slate"}
              backgroundImage={
                w.rank === 1 ? "repeating-linear-gradient(90deg, var(--chakra-colors-brass) 0 7px, transparent 7px 10px)" : undefined
              }
            />
          </Box>
          <Text textAlign="right" fontWeight={w.rank < 2 ? "700" : "400"} textStyle={w.rank < 2 ? "figure" : "body"}>
            {percent(w.p)}
            <Text as="span" textStyle="small" color="ink2" fontWeight="400">
              {" %"}
            </Text>
          </Text>
        </Grid>
      ))}
    </Box>
  );
}

/** The drives at the same road speed that part the two leaders, with where each would stand. */
export function Partings({ o }: { o: Orders }) {
  if (o.drives.length === 0) return null;
  const all = o.drives.flatMap((d) => d.at.filter((v) => v > 0));
  const low = Math.min(...all) * 0.85;
  const high = Math.max(...all) * 1.15;
  const place = (v: number) => `${(100 * (v - low)) / (high - low)}%`;
  const [a, b] = o.drives[0]?.leaders.map((i) => o.sources[i]?.name ?? "") ?? [];
  return (
    <Box as="section" aria-label="Drives that part the two leaders" borderBottomWidth="1px" borderColor="line">
      <Box px="4" pt="3" pb="1">
        {head("Drives that part the two leaders")}
        <Box textStyle="fine" color="ink2">
          <Text truncate>
            <Box as="span" color="brass">
              ■
            </Box>{" "}
            {a}
          </Text>
          <Text truncate>○ {b}</Text>
        </Box>
      </Box>
      {o.drives.map((d, i) => (
        <Grid
          key={`${d.way} ${d.range}`}
          templateColumns="22px minmax(0, 1fr) 180px"
          gap="2"
          px="4"
          py="2"
          bg={i === 0 ? "brassSoft" : undefined}
          borderTopWidth="1px"
          borderColor="line"
          alignItems="center"
        >
          <Text fontWeight="700" alignSelf="start">
            {i + 1}
          </Text>
          <Box>
            <Text fontWeight="600" lineHeight="1.2">
              {d.title}
            </Text>
            <Text textStyle="fine" color="ink2">
              {number(d.minutes)} min · leader right after it {percent(d.right)} of 100
            </Text>
            {i === 0 && <Text textStyle="fine">{d.caution}</Text>}
          </Box>
          <Box position="relative" h="44px" role="img" aria-label={d.words}>
            <Box position="absolute" left="0" right="0" top="26px" h="1px" bg="slate" />
            {d.at.map((v, k) =>
              v > 0 ? (
                <Box key={k} position="absolute" left={place(v)} top="0" transform="translateX(-50%)" textAlign="center">
                  <Text textStyle="fine" fontWeight="600">
                    {short(v, 0)}
                  </Text>
                  <Text lineHeight="1" color={k === 0 ? "brass" : "ink"}>
                    {k === 0 ? "■" : "○"}
                  </Text>
                </Box>
              ) : (
                <Text key={k} position="absolute" right="0" top="28px" textStyle="fine">
                  {k === 0 ? "■" : "○"} gone
                </Text>
              ),
            )}
          </Box>
        </Grid>
      ))}
    </Box>
  );
}
