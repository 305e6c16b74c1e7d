import { Box, Button, Grid, Text, Textarea } from "@chakra-ui/react";
import type { Schemas } from "../../../api/client";
import { Choice } from "../../../shared/Choice";
import { Labelled, TextField } from "../../../shared/fields";
import { amount, roughly } from "../../../shared/format";
import { SignaturePad } from "../../../shared/SignaturePad";
import { Problem } from "../../../shared/states";
import { useCase, useCaseStatus } from "../useCase";
import type { Deal } from "./useDeal";
import { useForm } from "../../../shared/useForm";

const blank = {
  choice: "accepted" as "accepted" | "declined",
  how: "in-person" as "in-person" | "phone" | "signed",
  words: "",
  name: "",
  signature: "",
};

/** What the customer says, how, and who: freezes what it rests on. */
export function Choose({ row, data, deal }: { row: Schemas["OptionRow"]; data: Schemas["Options"]; deal: Deal }) {
  const { actions } = useCase();
  const status = useCaseStatus();
  const [form, put, setForm] = useForm(blank);
  const taken = form.choice === "accepted" && deal.addOns.length > 0 ? deal.visit : row;
  const submit = () => {
    const { signature, ...told } = form;
    actions.decide.mutate(
      {
        option: row.id,
        ...told,
        ...(form.how === "signed" ? { signature } : {}),
        ceiling: deal.ceiling,
        addOns: form.choice === "accepted" ? deal.addOns : [],
        quality: deal.quality,
        set: deal.estimated,
      },
      { onSuccess: () => setForm(blank) },
    );
  };
  return (
    <Box as="section" aria-label="Customer’s choice" borderTopWidth="2px" borderColor="line" pt="3" mt="5">
      <Text as="h3" fontWeight="700" mb="2">
        Customer’s choice: {row.title}, {taken ? `${amount(data.currency, taken.pay)} now` : "being priced"}
      </Text>
      {data.addOns.length > 0 && form.choice === "accepted" && (
        <Box role="group" aria-label="While it is out" mb="3">
          <Text fontWeight="600">While it is out</Text>
          {data.addOns.map((a) => (
            <label key={a.option} style={{ display: "flex", alignItems: "center", gap: 10, minHeight: 44, cursor: "pointer" }}>
              <input
                type="checkbox"
                checked={deal.addOns.includes(a.option)}
                onChange={() => deal.toggle(a.option)}
                style={{ width: 20, height: 20 }}
              />
              <span>
                <b>{a.title}</b>: {roughly(data.currency, a.extra)} more, takes {roughly(data.currency, a.saves)} from the expected return
                {a.access && "; opening it up is already paid for"}
              </span>
            </label>
          ))}
        </Box>
      )}
      <Grid templateColumns={{ base: "1fr", lg: "auto auto 1fr" }} gap="4" alignItems="end" mb="3">
        <Choice
          label="Choice"
          value={form.choice}
          options={[
            ["accepted", "takes it"],
            ["declined", "declines it"],
          ]}
          onChange={(choice) => put({ choice })}
        />
        <Choice
          label="How it was said"
          value={form.how}
          options={[
            ["in-person", "in person"],
            ["phone", "by phone"],
            ["signed", "signed here"],
          ]}
          onChange={(how) => put({ how })}
        />
        <TextField
          label="Who decided"
          maxLength={120}
          required={form.how === "signed"}
          value={form.name}
          onChange={(e) => put({ name: e.target.value })}
        />
      </Grid>
      <Grid templateColumns={{ base: "1fr", lg: "1fr auto" }} gap="4" alignItems="end">
        <Labelled label="In the customer’s words">
          <Textarea rows={1} maxLength={400} value={form.words} onChange={(e) => put({ words: e.target.value })} />
        </Labelled>
        <Button variant="solid" loading={status.decide.isPending} onClick={submit}>
          Record the choice
        </Button>
      </Grid>
      {form.how === "signed" && (
        <Box mt="3" maxW="520px">
          <SignaturePad value={form.signature} onChange={(signature) => put({ signature })} />
        </Box>
      )}
      {status.decide.isError && <Problem error={status.decide.error} />}
      <Text color="ink2" textStyle="small" mt="2">
        Locks the suspects, the readings and the prices as they are now.
      </Text>
    </Box>
  );
}
