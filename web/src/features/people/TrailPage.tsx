import { Box, Button, chakra, Flex, Text } from "@chakra-ui/react";
import { useInfiniteQuery } from "@tanstack/react-query";
import { Link, useSearchParams } from "react-router";
import { answer, api, type Schemas } from "../../api/client";
import { moment } from "../../shared/format";
import { ShopPlaces } from "../../shared/ShopPlaces";
import { Empty, Loading, Problem } from "../../shared/states";
import { Title } from "../../shared/Title";
import { roleNames, type Role } from "../../shared/session";

type Page = Schemas["AuditPage"];

/** Whose entries: of everything, of a case. */
function useTrail(caseId: string) {
  return useInfiniteQuery({
    queryKey: caseId ? ["case", caseId, "audit"] : ["audit"],
    queryFn: ({ pageParam, signal }): Promise<Page> => {
      const query = { before: pageParam || undefined };
      return caseId
        ? answer(api.GET("/cases/{id}/audit", { signal, params: { path: { id: caseId }, query } }))
        : answer(api.GET("/audit", { signal, params: { query } }));
    },
    initialPageParam: 0,
    getNextPageParam: (last) => last.next,
  });
}

function who(e: Schemas["AuditEntry"]) {
  if (!e.name) return "nobody signed in";
  return e.role ? `${e.name}, ${roleNames[e.role as Role] ?? e.role}` : e.name;
}

/** Who did what, the newest first; each entry carries the hash of the one before. */
export function TrailPage() {
  const [search] = useSearchParams();
  const caseId = search.get("case") ?? "";
  const { data, error, refetch, hasNextPage, fetchNextPage, isFetchingNextPage } = useTrail(caseId);
  const entries = data?.pages.flatMap((p) => p.entries) ?? [];
  return (
    <Box as="main" px={{ base: "3", md: "5" }} py="4" maxW="1180px" w="full">
      <Title of="Audit trail" />
      <ShopPlaces title="Audit trail" />
      <Text color="ink2" mb="3">
        {caseId ? (
          <>
            Of <Link to={`/cases/${caseId}`}>{entries[0]?.vehicle || `case ${caseId}`}</Link>. <Link to="/trail">All of it</Link>
          </>
        ) : (
          "Every change, who made it and where. Nothing here can be changed; innercompass verify proves it."
        )}
      </Text>
      {error && <Problem error={error} retry={() => void refetch()} />}
      {!data && !error && <Loading what="the trail" rows={8} />}
      {data && entries.length === 0 && <Empty title="Nothing yet">The first change begins the trail.</Empty>}
      <chakra.ol listStyleType="none" aria-label="Entries">
        {entries.map((e) => (
          <chakra.li
            key={e.seq}
            display="grid"
            gridTemplateColumns={{ base: "1fr", md: "64px 170px 200px minmax(0, 1fr) 90px" }}
            columnGap="4"
            borderTopWidth="1px"
            borderColor="line"
            py="2"
          >
            <Text color="ink2">{e.seq}</Text>
            <Text>{moment(e.at)}</Text>
            <Box>
              <Text fontWeight="600">{who(e)}</Text>
              {e.device && (
                <Text color="ink2" textStyle="small">
                  at {e.device}
                </Text>
              )}
            </Box>
            <Box minW="0">
              <Text overflowWrap="anywhere">{e.words || e.operation}</Text>
              {e.case && !caseId && (
                <Text textStyle="small">
                  <Link to={`/cases/${e.case}`}>{e.vehicle || `case ${e.case}`}</Link>
                </Text>
              )}
            </Box>
            <chakra.code color="ink2" textStyle="small" title={e.hash}>
              {e.hash.slice(0, 8)}
            </chakra.code>
          </chakra.li>
        ))}
      </chakra.ol>
      {hasNextPage && (
        <Flex justify="center" py="4">
          <Button loading={isFetchingNextPage} onClick={() => void fetchNextPage()}>
            Earlier ones
          </Button>
        </Flex>
      )}
    </Box>
  );
}
