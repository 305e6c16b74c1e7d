import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { unitsQuery } from "../../api/queries";
import { Empty, Loading, Problem } from "../../shared/states";
import { Title } from "../../shared/Title";

export function UnitsPage() {
  const { data, error, refetch } = useQuery(unitsQuery);
  return (
    <Box as="main" px={{ base: "3", md: "5" }} py="4" maxW="980px" w="full">
      <Title of="Units" />
      <Flex justify="space-between" align="center" mb="3" gap="4">
        <Text as="h1" textStyle="title" fontWeight="700">
          Units
        </Text>
        <Button asChild>
          <Link to="/units/new">Write a sheet</Link>
        </Button>
      </Flex>
      {error && <Problem error={error} retry={() => void refetch()} />}
      {!data && !error && <Loading what="the units" />}
      {data?.length === 0 && <Empty title="No unit on file">A unit sheet describes a design; see docs/unit-sheet.md.</Empty>}
      {data?.map((u) => (
        <Link key={u.id} to={`/units/${u.id}`}>
          <Flex
            py="3"
            borderTopWidth="1px"
            borderColor="line"
            gap={{ base: "1", md: "4" }}
            align="baseline"
            minH="56px"
            wrap={{ base: "wrap", md: "nowrap" }}
            _hover={{ bg: "brassSoft" }}
          >
            <Text textStyle="lead" fontWeight="700" w={{ base: "full", md: "190px" }}>
              {u.name}
            </Text>
            <Text flex="1">{u.summary}</Text>
            <Text color="ink2" whiteSpace="nowrap">
              {u.own ? "own sheet" : "sheet"} {u.version}
            </Text>
          </Flex>
        </Link>
      ))}
    </Box>
  );
}
