import { Box, Button, chakra, Flex, Grid, Image, Text } from "@chakra-ui/react";
import { useState } from "react";
import { TextField } from "../../shared/fields";
import { Problem } from "../../shared/states";
import { useCase, useCaseStatus } from "./useCase";

/** Pictures of what was found, each with its caption; they go onto the customer's record. Quiet where another place says what was refused. */
export function Photos({ quiet = false }: { quiet?: boolean }) {
  const { shown, actions } = useCase();
  const status = useCaseStatus();
  const [caption, setCaption] = useState("");
  const add = (files: FileList | null) => {
    const file = files?.[0];
    if (file) actions.photo.mutate({ file, caption }, { onSuccess: () => setCaption("") });
  };
  return (
    <Box as="section" aria-label="Pictures" mt="4" pt="3" borderTopWidth="1px" borderColor="line">
      <Text as="h3" fontWeight="700" mb="2">
        Pictures
      </Text>
      {shown.photos.length > 0 && (
        <Grid templateColumns="repeat(auto-fill, minmax(190px, 1fr))" gap="3" mb="3">
          {shown.photos.map((p) => (
            <chakra.figure key={p.id} m="0">
              <Image
                src={`/api/cases/${shown.id}/photos/${p.id}?small=1`}
                loading="lazy"
                alt={p.caption || "picture without a caption"}
                w="full"
                h="140px"
                objectFit="cover"
                borderWidth="1px"
                borderColor="line"
              />
              <Flex as="figcaption" justify="space-between" align="center" gap="2" textStyle="small">
                <Text>{p.caption || "without a caption"}</Text>
                {!shown.closed && (
                  <Button
                    variant="ghost"
                    aria-label={`Take out: ${p.caption || "picture"}`}
                    onClick={() => actions.withdrawPhoto.mutate(p.id)}
                  >
                    ✕
                  </Button>
                )}
              </Flex>
            </chakra.figure>
          ))}
        </Grid>
      )}
      {!shown.closed && (
        <Grid templateColumns={{ base: "1fr", md: "1fr auto" }} gap="3" alignItems="end">
          <TextField
            label="What the next picture shows"
            maxLength={400}
            placeholder="direct clutch piston, lip hard and cut"
            value={caption}
            onChange={(e) => setCaption(e.target.value)}
          />
          <Button asChild loading={status.photo.isPending}>
            <label>
              Add a picture
              <input
                type="file"
                accept="image/jpeg,image/png"
                style={{ position: "absolute", opacity: 0, width: 1 }}
                onChange={(e) => {
                  add(e.target.files);
                  e.target.value = "";
                }}
              />
            </label>
          </Button>
        </Grid>
      )}
      {status.photo.isError && !quiet && <Problem error={status.photo.error} />}
    </Box>
  );
}
