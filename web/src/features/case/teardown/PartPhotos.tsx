import { Box, Button, Flex, Grid, Image, Text } from "@chakra-ui/react";
import { useRef, useState } from "react";
import { Problem } from "../../../shared/states";
import { useSingleKey } from "../../../shared/useSingleKey";
import { useCase, useCaseStatus } from "../useCase";

/** A quarter turn to the right, as a new picture. */
async function turned(url: string): Promise<File> {
  const bitmap = await createImageBitmap(await (await fetch(url)).blob());
  const canvas = document.createElement("canvas");
  canvas.width = bitmap.height;
  canvas.height = bitmap.width;
  const g = canvas.getContext("2d")!;
  g.translate(bitmap.height, 0);
  g.rotate(Math.PI / 2);
  g.drawImage(bitmap, 0, 0);
  const blob = await new Promise<Blob | null>((done) => canvas.toBlob(done, "image/jpeg", 0.9));
  return new File([blob!], "turned.jpg", { type: "image/jpeg" });
}

/** Pictures of a part: taken with the camera or brought as a file, turned, seen large. */
export function PartPhotos({ part, number, nameOf }: { part: string; number: string; nameOf: (id: string) => string }) {
  const { shown, actions } = useCase();
  const status = useCaseStatus();
  const input = useRef<HTMLInputElement>(null);
  const [large, setLarge] = useState("");
  useSingleKey("p", () => input.current?.click());
  const url = (id: string, small = false) => `/api/cases/${shown.id}/photos/${id}${small ? "?small=1" : ""}`;
  const mine = shown.photos.filter((p) => p.part === part);
  const rest = shown.photos.filter((p) => p.part !== part && (p.part || p.stage === "teardown"));
  const seen = shown.photos.find((p) => p.id === large);
  const add = (file: File | undefined) =>
    file && actions.photo.mutate({ file, caption: `${number} ${nameOf(part)}`, part, stage: "teardown" });
  return (
    <Box as="section" aria-label="Pictures by part">
      <Flex justify="space-between" align="center" mb="1">
        <Text textStyle="small" color="ink2">
          Pictures by part · {shown.photos.length}
        </Text>
        {!shown.closed && (
          <Button asChild loading={status.photo.isPending}>
            <label>
              Picture of {number} <kbd>p</kbd>
              <input
                ref={input}
                type="file"
                accept="image/jpeg,image/png"
                capture="environment"
                style={{ position: "absolute", opacity: 0, width: 1 }}
                onChange={(e) => {
                  add(e.target.files?.[0]);
                  e.target.value = "";
                }}
              />
            </label>
          </Button>
        )}
      </Flex>
      {seen && (
        <Box mb="2">
          <Image src={url(seen.id)} alt={seen.caption} w="full" />
          <Flex gap="1" mt="1" wrap="wrap">
            <Button onClick={() => setLarge("")}>Small again</Button>
            {!shown.closed && (
              <>
                <Button
                  onClick={() =>
                    void turned(url(seen.id)).then((file) => {
                      actions.photo.mutate({ file, caption: seen.caption, part: seen.part, stage: seen.stage });
                      actions.withdrawPhoto.mutate(seen.id);
                      setLarge("");
                    })
                  }
                >
                  Turn right
                </Button>
                <Button variant="ghost" onClick={() => (actions.withdrawPhoto.mutate(seen.id), setLarge(""))}>
                  Take out
                </Button>
              </>
            )}
          </Flex>
        </Box>
      )}
      <Grid templateColumns="repeat(auto-fill, minmax(84px, 1fr))" gap="1.5">
        {[...mine, ...rest].map((p) => (
          <button key={p.id} type="button" onClick={() => setLarge(p.id)} aria-label={`See large: ${p.caption || "picture"}`}>
            <Image
              src={url(p.id, true)}
              alt=""
              loading="lazy"
              w="full"
              h="62px"
              objectFit="cover"
              borderWidth={p.part === part ? "2px" : "1px"}
              borderColor={p.part === part ? "brass" : "line"}
            />
            <Text textStyle="fine" textAlign="left" truncate>
              {p.caption || "no caption"}
            </Text>
          </button>
        ))}
      </Grid>
      {status.photo.isError && <Problem error={status.photo.error} />}
    </Box>
  );
}
