import { Box, Grid, Text } from "@chakra-ui/react";
import { useEffect, useRef, type ReactNode } from "react";
import { useLocation } from "react-router";

/** A part of a place that can be gone to by its name: what it is about at the left, what is done at the right, lines between. */
export function Section({ id, title, about, children }: { id: string; title: string; about?: ReactNode; children: ReactNode }) {
  const { hash } = useLocation();
  const box = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (hash === `#${id}`) box.current?.scrollIntoView({ block: "start" });
  }, [hash, id]);
  return (
    <Grid
      as="section"
      ref={box}
      id={id}
      aria-label={title}
      templateColumns={{ base: "1fr", lg: "240px minmax(0, 1fr)" }}
      columnGap="8"
      rowGap="3"
      py="5"
      borderTopWidth="1px"
      borderColor="line"
      scrollMarginTop="8px"
    >
      <Box>
        <Text as="h2" textStyle="subheading" fontWeight="700">
          {title}
        </Text>
        {about && (
          <Box color="ink2" textStyle="note" mt="1">
            {about}
          </Box>
        )}
      </Box>
      <Box minW="0">{children}</Box>
    </Grid>
  );
}
