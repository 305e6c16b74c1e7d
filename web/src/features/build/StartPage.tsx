import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Link, useNavigate, useSearchParams } from "react-router";
import { answer, api } from "../../api/client";
import { draftsQuery, schemesQuery } from "../../api/queries";
import { day } from "../../shared/format";
import { Loading, Problem } from "../../shared/states";
import { Title } from "../../shared/Title";
import { SchemeTile } from "./SchemeTile";

const kinds: [string, string, string][] = [
  ["automatic", "Automatic, gear sets in line", "the usual automatic"],
  ["parallel", "Automatic, a clutch for each gear", "two or three shafts side by side"],
  ["two-speed", "Two-speed", "buses of old, underdrives, reversing gears"],
  ["manual", "Manual", "sleeves that a hand moves"],
  ["automated", "Automated manual", "sleeves that actuators move"],
];

/** Where a unit of one's own begins: a scheme of gears, or the chart alone. */
export function StartPage() {
  const navigate = useNavigate();
  const client = useQueryClient();
  const [params] = useSearchParams();
  const tail = params.get("for") === "take-in" ? "?for=take-in" : "";
  const schemes = useQuery(schemesQuery);
  const drafts = useQuery(draftsQuery);
  const start = useMutation({
    mutationFn: (body: { kind: string; scheme?: string; copy?: string }) => answer(api.POST("/drafts", { body })),
    onSuccess: (d) => {
      void client.invalidateQueries({ queryKey: draftsQuery.queryKey });
      client.setQueryData(["draft", d.id], d);
      void navigate(`/units/build/${d.id}${tail}`);
    },
  });
  const remove = useMutation({
    mutationFn: (id: string) => answer(api.DELETE("/drafts/{id}", { params: { path: { id } } })),
    onSuccess: () => client.invalidateQueries({ queryKey: draftsQuery.queryKey }),
  });
  return (
    <Box as="main" px={{ base: "3", md: "5" }} py="4" w="full">
      <Title of="Build a unit" />
      <Flex align="baseline" gap="4" wrap="wrap" mb="2">
        <Text as="h1" textStyle="title" fontWeight="700">
          Build a unit
        </Text>
        <Text color="ink2">From the apply chart, and the ratios if you have them. Ten minutes, kept at every step.</Text>
      </Flex>
      {start.error && <Problem error={start.error} />}
      {(drafts.data?.length ?? 0) > 0 && (
        <Box as="section" aria-label="Go on with" mb="4">
          <Text as="h2" fontWeight="700">
            Go on with
          </Text>
          {drafts.data?.map((d) => (
            <Flex key={d.id} borderTopWidth="1px" borderColor="line" align="center" minH="48px" gap="3">
              <Link to={`/units/build/${d.id}${tail}`} style={{ flex: 1 }}>
                <Flex minH="44px" align="center" gap="3" _hover={{ bg: "brassSoft" }}>
                  <Text fontWeight="700">{d.title || "no name yet"}</Text>
                  <Text color="ink2">{day(d.at)}</Text>
                </Flex>
              </Link>
              <Button variant="ghost" onClick={() => remove.mutate(d.id)} aria-label={`Take away ${d.title || "no name yet"}`}>
                Take away
              </Button>
            </Flex>
          ))}
        </Box>
      )}
      {!schemes.data && !schemes.error && <Loading what="the schemes" rows={5} />}
      {schemes.error && <Problem error={schemes.error} retry={() => void schemes.refetch()} />}
      {kinds.map(([kind, title, about]) => (
        <Box as="section" aria-label={title} key={kind} borderTopWidth="1px" borderColor="line" py="3">
          <Flex align="baseline" gap="3" mb="2" wrap="wrap">
            <Text as="h2" textStyle="subheading" fontWeight="700">
              {title}
            </Text>
            <Text color="ink2" textStyle="small">
              {about}
            </Text>
            <Button ml="auto" disabled={start.isPending} onClick={() => start.mutate({ kind })}>
              By the chart alone
            </Button>
          </Flex>
          <Flex wrap="wrap">
            {schemes.data
              ?.filter((x) => x.kind === kind)
              .map((x) => (
                <SchemeTile
                  key={x.id}
                  scheme={x}
                  about={x.hint}
                  disabled={start.isPending}
                  choose={() => start.mutate({ kind, scheme: x.id })}
                />
              ))}
          </Flex>
        </Box>
      ))}
    </Box>
  );
}
