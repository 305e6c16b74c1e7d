import { Box, Button, Text } from "@chakra-ui/react";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Link } from "react-router";
import { answer, api } from "../../api/client";
import type { Orders, OrdersAsked, Recording } from "../../api/recordings";
import { knowledgePath } from "../../shared/format";
import { Problem } from "../../shared/states";
import { worker } from "../../shared/worker";
import { pictureOf } from "./pictureOf";

/** What the ridge could be goes into the case as a reading with its reliability, and the map as a picture beside it. */
export function IntoCase({ r, o, asked, ridge }: { r: Recording; o: Orders; asked: OrdersAsked; ridge: number }) {
  const client = useQueryClient();
  const note = useMutation({
    mutationFn: async () => {
      const noted = await answer(
        api.POST("/recordings/{id}/readings", { params: { path: { id: r.id }, query: { ...asked, ridge, by: worker() } } }),
      );
      const picture = await pictureOf(document.querySelector<SVGSVGElement>("svg[data-orders]"));
      if (picture) {
        const form = new FormData();
        form.append("file", picture, "orders.png");
        form.append("caption", `${r.title}: ${o.headline}`);
        form.append("stage", "checks");
        form.append("by", worker());
        await fetch(`/api/cases/${r.case}/photos`, { method: "POST", body: form });
      }
      return noted;
    },
    onSuccess: () => client.invalidateQueries({ queryKey: ["case", r.case] }),
  });
  const causes = o.ridges[ridge]?.could[0]?.causes ?? [];
  if (!o.ridges[ridge] || o.ridges[ridge].given) return null;
  return (
    <Box px="4" py="3" borderBottomWidth="1px" borderColor="line">
      {causes.length > 0 && (
        <Text textStyle="note" mb="2">
          Could come from{" "}
          {causes.slice(0, 5).map((c, i) => (
            <span key={c.id}>
              {i > 0 && ", "}
              <Link to={knowledgePath(r.unit, "cause", c.id)}>{c.title}</Link>
            </span>
          ))}
          .
        </Text>
      )}
      {note.error && <Problem error={note.error} />}
      {note.data ? (
        <Text role="status">
          In the case: {note.data.said}. <Link to={`/cases/${note.data.case}/checks`}>To the case</Link>
        </Text>
      ) : r.case ? (
        <Button variant="solid" disabled={note.isPending} onClick={() => note.mutate()}>
          Put it into the case
        </Button>
      ) : (
        <Text color="ink2">
          Say under <Link to={`/recordings/${r.id}`}>Traces</Link> of which case this is; then it goes there as a reading.
        </Text>
      )}
    </Box>
  );
}
