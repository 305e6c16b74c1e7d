import { Box, Link } from "@chakra-ui/react";
import { Link as RouterLink, useRouteError } from "react-router";
import { Empty } from "../shared/states";
import { Title } from "../shared/Title";

export function RouteProblem() {
  const error = useRouteError();
  return (
    <Box px="5" as="main">
      <Title of="No such page" />
      <Empty title={error ? "This page failed" : "There is no such page"}>
        {error ? "Nothing that was saved is lost. Load it again." : "The address may be mistyped."}{" "}
        <Link asChild textDecoration="underline" color="ink">
          <RouterLink to="/">Back to the Floor</RouterLink>
        </Link>
      </Empty>
    </Box>
  );
}
