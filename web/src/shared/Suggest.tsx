import { Combobox, createListCollection, Portal, Text } from "@chakra-ui/react";
import { useMemo, useState } from "react";

export interface Suggestion {
  value: string;
  label: string;
  /** What it is, in a line; searched as well. */
  about?: string;
}

/** Every word that was typed stands in the label or in what is said of it. */
function fits(s: Suggestion, typed: string): boolean {
  const text = `${s.label} ${s.about ?? ""}`.toLowerCase();
  return typed
    .toLowerCase()
    .split(/\s+/)
    .filter(Boolean)
    .every((w) => text.includes(w));
}

/** A field that offers what is known as one types. With free, what is typed counts as it stands; without, one must be chosen. */
export function Suggest({
  label,
  all,
  value,
  free = false,
  required = false,
  placeholder,
  error,
  choose,
}: {
  label: string;
  all: Suggestion[];
  value: string;
  free?: boolean;
  required?: boolean;
  placeholder?: string;
  error?: string;
  choose: (value: string) => void;
}) {
  const [typed, setTyped] = useState("");
  const [open, setOpen] = useState(false);
  const shown = useMemo(() => all.filter((s) => fits(s, typed)).slice(0, 12), [all, typed]);
  const collection = useMemo(() => createListCollection({ items: shown }), [shown]);
  const chosen = all.find((s) => s.value === value);
  return (
    <Combobox.Root
      collection={collection}
      value={chosen ? [chosen.value] : []}
      {...(free ? { inputValue: value } : {})}
      allowCustomValue={free}
      openOnClick
      // Where anything may be written, a list without a match is in the way, and Enter must not take what was not chosen.
      open={open && (!free || shown.length > 0)}
      onOpenChange={(e) => setOpen(e.open)}
      inputBehavior={free ? "none" : "autohighlight"}
      selectionBehavior="replace"
      required={required && free}
      invalid={error !== undefined}
      onInputValueChange={(e) => {
        setTyped(e.reason === "input-change" ? e.inputValue : "");
        if (free && e.reason === "input-change") choose(e.inputValue);
      }}
      onValueChange={(e) => e.value[0] !== undefined && choose(e.value[0])}
    >
      <Combobox.Label textStyle="label" fontWeight="600">
        {label}
        {required && (
          <Text as="span" color="ink2" fontWeight="400">
            {" "}
            needed
          </Text>
        )}
      </Combobox.Label>
      <Combobox.Control>
        <Combobox.Input
          placeholder={placeholder}
          maxLength={120}
          bg="panel"
          borderColor="slate"
          minH="44px"
          // A list that arrives late must not open behind somebody who has gone on.
          onBlur={() => setOpen(false)}
        />
      </Combobox.Control>
      {error && (
        <Text color="fault" textStyle="small" role="alert">
          {error}
        </Text>
      )}
      <Portal>
        <Combobox.Positioner>
          <Combobox.Content bg="panel" borderWidth="1px" borderColor="slate" maxH="320px">
            <Combobox.Empty px="3" py="2">
              No sheet has these words
            </Combobox.Empty>
            {shown.map((s) => (
              <Combobox.Item
                key={s.value}
                item={s}
                minH="44px"
                px="3"
                flexDirection="column"
                alignItems="start"
                gap="0"
                _highlighted={{ bg: "brassSoft" }}
              >
                <Text fontWeight="600">{s.label}</Text>
                {s.about && (
                  <Text color="ink2" textStyle="small">
                    {s.about}
                  </Text>
                )}
              </Combobox.Item>
            ))}
          </Combobox.Content>
        </Combobox.Positioner>
      </Portal>
    </Combobox.Root>
  );
}
