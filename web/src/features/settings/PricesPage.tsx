import { Box, Button, Flex, Grid, Input, Text } from "@chakra-ui/react";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState, type ChangeEvent } from "react";
import { answer, api, type Schemas } from "../../api/client";
import { priceItemsQuery, pricesQuery, unitsQuery } from "../../api/queries";
import { SelectField, TextField } from "../../shared/fields";
import { money, short } from "../../shared/format";
import { NumberField } from "../../shared/NumberField";
import { Choice } from "../../shared/Choice";
import { Section } from "../../shared/Section";
import { Suggest } from "../../shared/Suggest";
import { Empty, Loading, Problem } from "../../shared/states";
import { Table } from "../../shared/Table";
import { useForm } from "../../shared/useForm";
import { Title } from "../../shared/Title";

type Price = Schemas["Price"];

const blank: Price = { unit: "*", item: "", quality: "", price: "", hours: "", note: "" };
const sameEntry = (a: Price, b: Price) => a.unit === b.unit && a.item === b.item && a.quality === b.quality;

/** One entry: what it is for, of which unit and quality, what it costs or how long it takes; the guide's figure stands beside it. */
function Entry({ currency, save, saving }: { currency: string; save: (p: Price) => void; saving: boolean }) {
  const { data: units } = useQuery(unitsQuery);
  const [form, put, setForm] = useForm(blank);
  const listed = form.unit === "*" ? (units?.[0]?.id ?? "") : form.unit;
  const { data: items } = useQuery(priceItemsQuery(listed));
  const item = items?.find((i) => i.item === form.item);
  const timed = item?.timed ?? false;
  return (
    <Section id="entry" title="A price of the shop" about="For one unit, or for all.">
      <Grid templateColumns={{ base: "1fr", md: "180px minmax(0, 1fr)" }} gap="3" alignItems="end">
        <SelectField
          label="Unit"
          value={form.unit}
          onChange={(e) => setForm({ ...blank, unit: e.target.value })}
          options={[["*", "all units"], ...(units ?? []).map((u): [string, string] => [u.id, u.name])]}
        />
        <Suggest
          label="For"
          placeholder="part or work: pump parts, reseal time …"
          all={(items ?? []).map((i) => ({ value: i.item, label: i.title }))}
          value={form.item}
          choose={(item) => put({ item, quality: "" })}
        />
      </Grid>
      {item && item.qualities.length > 0 && (
        <Box mt="3">
          <Choice
            label="Quality"
            value={form.quality}
            options={[["", "the usual one"], ...item.qualities.map((q): [string, string] => [q, q])]}
            onChange={(quality) => put({ quality })}
          />
        </Box>
      )}
      <Grid templateColumns={{ base: "1fr", md: "180px minmax(0, 1fr) auto" }} gap="3" alignItems="start" mt="3">
        {timed ? (
          <NumberField label="Hours" kind="hours" value={form.hours} onChange={(e) => put({ hours: e.target.value })} />
        ) : (
          <NumberField
            label={`Price, ${currency}, before tax`}
            kind="money"
            value={form.price}
            onChange={(e) => put({ price: e.target.value })}
          />
        )}
        <TextField label="Note" maxLength={120} value={form.note} onChange={(e) => put({ note: e.target.value })} />
        <Button
          variant="solid"
          mt={{ md: "6.5" }}
          disabled={!item || (timed ? form.hours : form.price).trim() === ""}
          loading={saving}
          onClick={() => save({ ...form, price: timed ? "" : form.price, hours: timed ? form.hours : "" })}
        >
          Put into the book
        </Button>
      </Grid>
      {item && item.guide > 0 && (
        <Text color="ink2" mt="1">
          Guide: {timed ? `${short(item.guide)} h` : money(currency, item.guide)}, the app’s judgment.
        </Text>
      )}
    </Section>
  );
}

/** The shop's prices and hours: they go before the guide of the app wherever they fit. */
export function PricesPage() {
  const client = useQueryClient();
  const { data, error } = useQuery(pricesQuery);
  const [find, setFind] = useState("");
  const took = (now: Schemas["PriceBook"]) => {
    client.setQueryData(pricesQuery.queryKey, now);
    void client.invalidateQueries({ queryKey: ["options"] });
  };
  const save = useMutation({
    mutationFn: (prices: Price[]) => answer(api.PUT("/prices", { body: { prices }, params: { header: { "If-Match": data?.rev ?? "" } } })),
    onSuccess: took,
    onError: () => void client.invalidateQueries({ queryKey: pricesQuery.queryKey }),
  });
  const read = useMutation({
    mutationFn: (text: string) => answer(api.PUT("/price-table", { body: { text } })),
    onSuccess: took,
  });
  const open = (e: ChangeEvent<HTMLInputElement>) => {
    void e.target.files?.[0]?.text().then((text) => read.mutate(text));
    e.target.value = "";
  };
  const prices = data?.prices ?? [];
  const shown = prices.filter((p) =>
    `${data?.titles[p.unit] ?? p.unit} ${data?.titles[p.item] ?? p.item} ${p.quality} ${p.note}`.toLowerCase().includes(find.toLowerCase()),
  );
  return (
    <Box as="main" px={{ base: "3", md: "5" }} py="4" maxW="1080px" w="full">
      <Title of="Price book" />
      <Flex justify="space-between" align="end" wrap="wrap" gap="3" mb="4">
        <Box>
          <Text as="h1" textStyle="title" fontWeight="700">
            Price book
          </Text>
          <Text color="ink2">What the shop charges. It goes before the guide of the app.</Text>
        </Box>
        <Flex gap="3">
          <Button asChild loading={read.isPending}>
            <label>
              Read a table
              <input type="file" accept=".csv,.tsv,.txt,text/csv" onChange={open} style={{ position: "absolute", opacity: 0, width: 1 }} />
            </label>
          </Button>
          <Button asChild>
            <a href="/api/price-table" download>
              Write a table
            </a>
          </Button>
        </Flex>
      </Flex>
      {error && <Problem error={error} />}
      {read.error && <Problem error={read.error} />}
      {save.error && <Problem error={save.error} />}
      {!data && !error && <Loading what="the price book" />}
      {data && (
        <>
          <Entry
            key={data.rev}
            currency={data.currency}
            saving={save.isPending}
            save={(p) => save.mutate([...prices.filter((x) => !sameEntry(x, p)), p])}
          />
          {prices.length === 0 ? (
            <Empty title="No prices of the shop yet">
              Estimates go by the guide of the app, or say that a price is missing, as Settings has it. A table has the columns unit, item,
              quality, price, hours, note.
            </Empty>
          ) : (
            <Section id="book" title="The book" about={`${shown.length} of ${prices.length} entries`}>
              <Input
                type="search"
                aria-label="Find a price"
                placeholder="Find a price"
                maxW="320px"
                mb="2"
                value={find}
                onChange={(e) => setFind(e.target.value)}
              />
              <Table
                label="Prices of the shop"
                head={["unit", "for", "quality", ">price", ">hours", "note", ""]}
                rows={shown.map((p) => [
                  p.unit === "*" ? "all units" : (data.titles[p.unit] ?? p.unit),
                  data.titles[p.item] ?? p.item,
                  p.quality,
                  p.price && `${data.currency} ${p.price}`,
                  p.hours && `${p.hours} h`,
                  p.note,
                  <Button
                    key="x"
                    variant="ghost"
                    aria-label={`Take out ${data.titles[p.item] ?? p.item}, ${data.titles[p.unit] ?? "all units"}`}
                    onClick={() => save.mutate(prices.filter((x) => !sameEntry(x, p)))}
                  >
                    ✕
                  </Button>,
                ])}
              />
            </Section>
          )}
        </>
      )}
    </Box>
  );
}
