import { Button, Flex, Text } from "@chakra-ui/react";
import { Link } from "react-router";

const places: [string, string][] = [
  ["/settings", "Settings"],
  ["/prices", "Price book"],
  ["/people", "People"],
  ["/trail", "Audit trail"],
  ["/backup", "Backup"],
  ["/privacy", "Privacy"],
  ["/verify", "Verify a record"],
];

/** The title of a page of the shop's own, with the way to its neighbors. */
export function ShopPlaces({ title }: { title: string }) {
  return (
    <Flex justify="space-between" align="baseline" wrap="wrap" gap="3" mb="4">
      <Text as="h1" textStyle="title" fontWeight="700">
        {title}
      </Text>
      <Flex as="nav" aria-label="The shop" gap="2" wrap="wrap">
        {places
          .filter(([, name]) => name !== title)
          .map(([to, name]) => (
            <Button key={to} asChild>
              <Link to={to}>{name}</Link>
            </Button>
          ))}
      </Flex>
    </Flex>
  );
}
