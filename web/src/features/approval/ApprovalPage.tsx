import { Box, Button, Flex, Text, Textarea } from "@chakra-ui/react";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useParams } from "react-router";
import { answer, api, isAway, type Schemas } from "../../api/client";
import { answered, keyOf } from "../../api/keys";
import { approvalQuery } from "../../api/queries";
import { Choice } from "../../shared/Choice";
import { Labelled, TextField } from "../../shared/fields";
import { amount, longMoment, percent, setNotation, short } from "../../shared/format";
import { SignaturePad } from "../../shared/SignaturePad";
import { Loading, Problem } from "../../shared/states";
import { useForm } from "../../shared/useForm";
import { Title } from "../../shared/Title";

type Approval = Schemas["Approval"];
type Option = Schemas["OfferedOption"];

const ended: Record<string, [string, string]> = {
  expired: ["This offer has ended.", "Ask the shop for a new one."],
  replaced: ["This offer was replaced.", "The shop has made a newer one, or recorded your answer already. Ask it if you are not sure."],
  stale: ["This offer no longer holds.", "The vehicle or the prices were looked at again since. Ask the shop for a new one."],
};

function OptionCard({ o, currency, picked, pick, off }: { o: Option; currency: string; picked: boolean; pick: () => void; off: boolean }) {
  const priced = o.missing.length === 0;
  return (
    <Box
      borderWidth="1px"
      borderColor={picked ? "brass" : "slate"}
      boxShadow={picked ? "inset 0 0 0 1px {colors.brass}" : undefined}
      borderRadius="6px"
      bg={picked ? "brassSoft" : "panel"}
      mb="2.5"
    >
      <button
        type="button"
        role="radio"
        aria-checked={picked}
        disabled={off || !priced}
        onClick={pick}
        style={{ width: "100%", textAlign: "left", padding: "12px 14px", minHeight: 64 }}
      >
        <Flex justify="space-between" gap="3" align="baseline">
          <Text fontWeight="700" textStyle="lead">
            {o.title}
          </Text>
          <Text fontWeight="700" textStyle="subheading" whiteSpace="nowrap">
            {priced ? amount(currency, o.pay) : "not priced"}
          </Text>
        </Flex>
        <Text color="ink2">
          {o.advised && <b>advised by the shop · </b>}
          cures what was found in {percent(o.cured)} of 100 such vehicles
        </Text>
        {o.hazard && <Text color="fault">▲ {o.hazard}</Text>}
      </button>
      {o.lines.length > 0 && (
        <details style={{ padding: "0 14px 8px" }}>
          <summary style={{ cursor: "pointer", minHeight: 44, paddingTop: 10 }}>What is in it</summary>
          {o.lines.map((l, i) => (
            <Flex key={i} justify="space-between" gap="3" borderTopWidth="1px" borderColor="line" py="1.5">
              <Text>
                {l.title}
                {l.per && `, ${short(l.count)} ${l.per}`}
              </Text>
              <Text whiteSpace="nowrap">{amount(currency, l.total)}</Text>
            </Flex>
          ))}
          {o.tax > 0 && (
            <Flex justify="space-between" gap="3" borderTopWidth="1px" borderColor="line" py="1.5">
              <Text>tax</Text>
              <Text>{amount(currency, o.tax)}</Text>
            </Flex>
          )}
        </details>
      )}
    </Box>
  );
}

/** The answer: an option taken or all of them declined, by name, signed if one likes. */
function AnswerForm({ data, token }: { data: Approval; token: string }) {
  const client = useQueryClient();
  const priced = data.options.filter((o) => o.missing.length === 0);
  const [option, setOption] = useState(() => (priced.find((o) => o.advised) ?? priced[0])?.id ?? "");
  const [form, put] = useForm({ choice: "accepted" as "accepted" | "declined", name: "", words: "", signature: "" });
  const body = { ...form, option, signature: form.signature || undefined };
  const send = useMutation({
    mutationFn: () =>
      answer(api.POST("/approvals/{token}", { params: { path: { token }, header: { "Idempotency-Key": keyOf(token, body) } }, body })),
    onSuccess: (now) => {
      answered(token, keyOf(token, body));
      client.setQueryData(approvalQuery(token).queryKey, now);
    },
    onError: (e) => {
      if (!isAway(e)) answered(token, keyOf(token, body));
      void client.invalidateQueries({ queryKey: approvalQuery(token).queryKey });
    },
  });
  const chosen = data.options.find((o) => o.id === option);
  return (
    <>
      <Box role="radiogroup" aria-label="What can be done" mt="2">
        {data.options.map((o) => (
          <OptionCard key={o.id} o={o} currency={data.currency} picked={o.id === option} pick={() => setOption(o.id)} off={false} />
        ))}
      </Box>
      {data.cautions.length > 0 && (
        <Box bg="faultSoft" borderLeftWidth="4px" borderColor="fault" px="3" py="2" my="3" role="note" aria-label="If it is driven on">
          {data.cautions.map((c) => (
            <Text key={c}>▲ {c}</Text>
          ))}
        </Box>
      )}
      <Box as="section" aria-label="Your answer" mt="4">
        <Text as="h2" textStyle="heading" fontWeight="700" mb="2">
          Your answer
        </Text>
        <Choice
          label="Your answer"
          value={form.choice}
          options={[
            ["accepted", "I agree to it"],
            ["declined", "I decline it"],
          ]}
          onChange={(choice) => put({ choice })}
        />
        <Box display="grid" gap="3" mt="3">
          <TextField
            label="Your name"
            required
            autoComplete="name"
            maxLength={120}
            value={form.name}
            onChange={(e) => put({ name: e.target.value })}
          />
          <Labelled label="Anything the shop should know">
            <Textarea rows={2} maxLength={400} value={form.words} onChange={(e) => put({ words: e.target.value })} />
          </Labelled>
          <SignaturePad value={form.signature} onChange={(signature) => put({ signature })} />
        </Box>
        {send.error && <Problem error={send.error} />}
        <Button
          variant="solid"
          mt="4"
          w="full"
          minH="52px"
          textStyle="lead"
          disabled={!form.name.trim() || !option}
          loading={send.isPending}
          onClick={() => send.mutate()}
        >
          {form.choice === "accepted" && chosen ? `Agree to it for ${amount(data.currency, chosen.pay)}` : "Decline it"}
        </Button>
        <Text color="ink2" textStyle="small" mt="2">
          Given once. It is kept with what it rests on, and the shop sees it at once.
        </Text>
      </Box>
    </>
  );
}

/** What the customer sees of an estimate: on a phone, by a private link, until it ends. */
export function ApprovalPage() {
  const { token = "" } = useParams();
  const { data, error } = useQuery(approvalQuery(token));
  if (data) setNotation(data.numbers, data.zone);
  const done = data?.answered;
  const over = data && ended[data.state];
  return (
    <Box as="main" maxW="560px" mx="auto" px="4" py="5">
      <Title of="Estimate" />
      {error && (
        <>
          <Text as="h1" textStyle="title" fontWeight="700">
            This link opens nothing
          </Text>
          <Problem error={error} />
        </>
      )}
      {!data && !error && <Loading what="the estimate" />}
      {data && (
        <>
          <Text color="ink2">{data.shop}</Text>
          <Text as="h1" textStyle="title" fontWeight="700" lineHeight="1.2">
            “{data.words}”
          </Text>
          <Text color="ink2" mb="3">
            {data.vehicle}
          </Text>
          <Text>
            What is wrong is {data.sure}: <b>{data.root}</b>, {percent(data.rootShare)} %.
          </Text>
          {done ? (
            <Box role="status" bg="brassSoft" borderLeftWidth="4px" borderColor="brass" px="4" py="3" my="4">
              <Text fontWeight="700" textStyle="heading">
                {done.choice === "accepted" ? "Agreed" : "Declined"}: {done.title}
              </Text>
              <Text>
                {done.name}, {longMoment(done.at)}. The shop has it.
              </Text>
            </Box>
          ) : over ? (
            <Box role="alert" bg="faultSoft" borderLeftWidth="4px" borderColor="fault" px="4" py="3" my="4">
              <Text fontWeight="700">{over[0]}</Text>
              <Text>{over[1]}</Text>
            </Box>
          ) : (
            <AnswerForm data={data} token={token} />
          )}
          {data.warranty && (
            <Text color="ink2" mt="5" whiteSpace="pre-line">
              <b>Warranty.</b> {data.warranty}
            </Text>
          )}
          <Text color="ink2" textStyle="small" mt="3" whiteSpace="pre-line">
            {data.address}
            {"\n"}This link ends on {longMoment(data.expires)}.
          </Text>
        </>
      )}
    </Box>
  );
}
