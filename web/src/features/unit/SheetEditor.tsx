import { Box, chakra, Flex, Text } from "@chakra-ui/react";
import { useImperativeHandle, useRef, useState, type Ref } from "react";
import type { Schemas } from "../../api/client";
import { Chip } from "../../shared/Chip";
import { possibleKeys } from "./sheetKeys";

export interface EditorHandle {
  goTo: (line: number) => void;
}

const lineHeight = 20;
const mono = "ui-monospace, 'DejaVu Sans Mono', monospace";

/** Plain text with line numbers; a line that is wrong has a mark beside its number. */
export function SheetEditor({
  ref,
  text,
  onChange,
  problems,
}: {
  ref: Ref<EditorHandle>;
  text: string;
  onChange: (text: string) => void;
  problems: Schemas["SheetProblem"][];
}) {
  const area = useRef<HTMLTextAreaElement>(null);
  const gutter = useRef<HTMLPreElement>(null);
  const count = text.split("\n").length;
  const wrong = new Set(problems.map((p) => p.line));
  useImperativeHandle(ref, () => ({
    goTo: (line) => {
      const a = area.current;
      if (!a) return;
      const lines = a.value.split("\n");
      const start = lines.slice(0, line - 1).reduce((n, l) => n + l.length + 1, 0);
      a.focus();
      a.setSelectionRange(start, start + (lines[line - 1]?.length ?? 0));
      a.scrollTop = Math.max(0, (line - 6) * lineHeight);
    },
  }));
  const [caret, setCaret] = useState(0);
  const possible = possibleKeys(text, caret);
  /** Puts a key where the caret stands, in the place of the letters that were begun. */
  const insert = (key: string) => {
    const begun = /[A-Za-z_]*$/.exec(text.slice(0, caret))![0].length;
    const line = text.slice(text.lastIndexOf("\n", caret - 1) + 1, caret);
    const space =
      /[{,]$/.test(line.slice(0, line.length - begun).trimEnd()) && !line.slice(0, line.length - begun).endsWith(" ") ? " " : "";
    onChange(text.slice(0, caret - begun) + space + key + ": " + text.slice(caret));
    const to = caret - begun + space.length + key.length + 2;
    requestAnimationFrame(() => {
      area.current?.focus();
      area.current?.setSelectionRange(to, to);
      setCaret(to);
    });
  };
  const begun = /[A-Za-z_]*$/.exec(text.slice(0, caret))![0];
  const shown = possible.keys.filter((k) => k.startsWith(begun));
  return (
    <Box>
      <Flex borderWidth="1px" borderColor="slate" bg="panel" h="68vh" minH="380px" overflow="hidden">
        <chakra.pre
          ref={gutter}
          aria-hidden
          m="0"
          py="2"
          px="2"
          textAlign="right"
          color="ink2"
          borderRightWidth="1px"
          borderColor="line"
          overflow="hidden"
          fontFamily={mono}
          textStyle="small"
          lineHeight={`${lineHeight}px`}
          minW="58px"
        >
          {Array.from({ length: count }, (_, i) => (
            <chakra.span
              key={i}
              display="block"
              color={wrong.has(i + 1) ? "fault" : undefined}
              fontWeight={wrong.has(i + 1) ? "700" : undefined}
            >
              {wrong.has(i + 1) ? "✕ " : ""}
              {i + 1}
            </chakra.span>
          ))}
        </chakra.pre>
        <chakra.textarea
          ref={area}
          aria-label="Text of the sheet"
          value={text}
          onChange={(e) => onChange(e.target.value)}
          onScroll={(e) => {
            if (gutter.current) gutter.current.scrollTop = e.currentTarget.scrollTop;
          }}
          spellCheck={false}
          wrap="off"
          flex="1"
          p="2"
          bg="transparent"
          resize="none"
          fontFamily={mono}
          textStyle="small"
          lineHeight={`${lineHeight}px`}
          whiteSpace="pre"
          overflow="auto"
          maxLength={1048576}
          onSelect={(e) => setCaret(e.currentTarget.selectionStart)}
        />
      </Flex>
      <Flex as="section" aria-label="What can stand here" wrap="wrap" gap="1.5" align="center" mt="2" minH="44px">
        <Text color="ink2" textStyle="small">
          {possible.path ? `Can stand under ${possible.path}:` : "Can stand here:"}
        </Text>
        {shown.length === 0 && (
          <Text color="ink2" textStyle="small">
            a value
          </Text>
        )}
        {shown.map((k) => (
          <Chip key={k} type="button" onClick={() => insert(k)}>
            {k}
          </Chip>
        ))}
      </Flex>
    </Box>
  );
}
