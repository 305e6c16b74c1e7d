import { Box, Grid, Text } from "@chakra-ui/react";
import { Loading } from "../../shared/states";
import { StageTabs } from "./StageTabs";

/** The lines and labels of a case while its values are on their way. */
export function CaseFrame({ id, stage }: { id: string; stage?: string }) {
  return (
    <>
      <Box as="section" aria-label="Case" px={{ base: "3", md: "5" }} pt="3" borderBottomWidth="1px" borderColor="line">
        <Text as="h1" textStyle="title" fontWeight="700" lineHeight="1.2" minH="29px">
          Case
        </Text>
        <Box minH="22px" />
        <StageTabs id={id} stage={stage} done={() => false} />
      </Box>
      <Grid templateColumns={{ base: "1fr", xl: "236px minmax(0, 1fr) 304px" }} flex="1">
        <Box display={{ base: "none", xl: "block" }} borderRightWidth="1px" borderColor="line" px="4" py="3" color="ink2" textStyle="small">
          Trail
        </Box>
        <Box as="main" px={{ base: "3", md: "5" }} py="4">
          <Loading what="the case" rows={6} />
        </Box>
        <Box display={{ base: "none", xl: "block" }} borderLeftWidth="1px" borderColor="line" px="4" py="3" color="ink2" textStyle="small">
          Next and suspects
        </Box>
      </Grid>
    </>
  );
}
