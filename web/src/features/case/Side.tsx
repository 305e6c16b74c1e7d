import { Button, Drawer, Flex, Portal, Text } from "@chakra-ui/react";
import { useState, type ReactNode } from "react";
import { useLocation } from "react-router";

/** A zone that waits at the side until it is asked for. */
export function Side({ label, placement, children }: { label: string; placement: "start" | "end"; children: ReactNode }) {
  const { search } = useLocation();
  const [open, setOpen] = useState("");
  // What was opened from a drawer appears in the middle: the drawer gives way to it.
  return (
    <Drawer.Root
      placement={placement}
      size="xs"
      open={open === `open${search}`}
      onOpenChange={(e) => setOpen(e.open ? `open${search}` : "")}
    >
      <Drawer.Trigger asChild>
        <Button>{label}</Button>
      </Drawer.Trigger>
      <Portal>
        <Drawer.Backdrop />
        <Drawer.Positioner>
          <Drawer.Content bg="page" overflowY="auto" maxW="340px">
            <Flex justify="space-between" align="center" px="4" py="2">
              <Drawer.Title asChild>
                <Text fontWeight="700">{label}</Text>
              </Drawer.Title>
              <Drawer.CloseTrigger asChild position="static">
                <Button variant="ghost">Close</Button>
              </Drawer.CloseTrigger>
            </Flex>
            {children}
          </Drawer.Content>
        </Drawer.Positioner>
      </Portal>
    </Drawer.Root>
  );
}
