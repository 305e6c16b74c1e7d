import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState, type FormEvent } from "react";
import { answer, api } from "../../api/client";
import { findingsQuery } from "../../api/queries";
import { TextField } from "../../shared/fields";
import { Problem } from "../../shared/states";
import { Suggest } from "../../shared/Suggest";
import { useCase } from "./useCase";

/** Teaches the shop's own way of saying: these words mean this, here and with every customer after. */
export function ThisMeans({ say, close }: { say: string; close: () => void }) {
  const { shown, by } = useCase();
  const client = useQueryClient();
  const { data } = useQuery(findingsQuery(shown.id, "complaint", shown.rev));
  const [form, setForm] = useState({ say, means: "" });
  const meanings = (data ?? []).flatMap((f) =>
    f.states
      .filter((_, i) => i > 0 || f.states.length > 2)
      .map((s) => ({ value: `${f.id} ${s.id}`, label: s.title === "yes" ? f.title : `${f.title}: ${s.title}`, about: f.about })),
  );
  const teach = useMutation({
    mutationFn: () => {
      const [finding = "", state = ""] = form.means.split(" ");
      return answer(api.POST("/own-words", { body: { say: form.say, finding, state, by } }));
    },
    onSuccess: () => {
      void client.invalidateQueries({ queryKey: ["words"] });
      void client.invalidateQueries({ queryKey: ["case-words"] });
      close();
    },
  });
  const submit = (e: FormEvent) => {
    e.preventDefault();
    teach.mutate();
  };
  return (
    <Box as="section" aria-label="This means" borderTopWidth="1px" borderColor="line" mt="2" pt="3">
      <form onSubmit={submit}>
        <Flex gap="3" wrap="wrap" align="end">
          <Box flex="1 1 220px">
            <TextField
              label="When they say"
              autoFocus
              maxLength={120}
              placeholder="does the hula"
              value={form.say}
              onChange={(e) => setForm({ ...form, say: e.target.value })}
            />
          </Box>
          <Box flex="1 1 280px">
            <Suggest
              label="it means"
              placeholder="shudder, slips, bang …"
              all={meanings}
              value={form.means}
              choose={(means) => setForm((f) => ({ ...f, means }))}
            />
          </Box>
          <Button type="submit" variant="solid" disabled={!form.say.trim() || !form.means} loading={teach.isPending}>
            Add it for the shop
          </Button>
          <Button variant="ghost" onClick={close}>
            Cancel
          </Button>
        </Flex>
      </form>
      {teach.error && <Problem error={teach.error} />}
      <Text color="ink2" textStyle="small" mt="1">
        Use the words as customers say them, two or more. The list is in Settings.
      </Text>
    </Box>
  );
}
