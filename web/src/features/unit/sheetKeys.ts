import schema from "../../../../docs/unit-sheet.schema.json";

interface Node {
  $ref?: string;
  type?: string | string[];
  properties?: Record<string, Node>;
  items?: Node;
  additionalProperties?: boolean | Node;
  enum?: string[];
  description?: string;
}

const root = schema as unknown as Node & { $defs?: Record<string, Node> };

function resolved(n: Node | undefined): Node | undefined {
  const ref = n?.$ref?.split("/").pop();
  return ref ? root.$defs?.[ref] : n;
}

const indent = (line: string) => line.length - line.trimStart().length;
const keyOf = (line: string) => /^\s*(?:- )*\s*([A-Za-z_]+)\s*:/.exec(line)?.[1];

/** The keys that lead to a line, from the top: those of the lines above it that stand further left. */
function pathTo(lines: string[], at: number): string[] {
  const path: string[] = [];
  const own = lines[at] ?? "";
  let left = own.trim() === "" ? Math.max(indent(own), own.length) : indent(own) + (own.trimStart().startsWith("- ") ? 2 : 0);
  for (let i = at - 1; i >= 0 && left > 0; i--) {
    const line = lines[i]!;
    if (line.trim() === "" || line.trimStart().startsWith("#") || indent(line) >= left) continue;
    const key = keyOf(line);
    if (!key || line.trimStart().startsWith("- ")) continue;
    left = indent(line);
    path.unshift(key);
  }
  return path;
}

/** What can stand at a place of a sheet: the keys of its group that are not there yet. In braces it is the group of the line's list. */
export function possibleKeys(text: string, caret: number): { path: string; keys: string[] } {
  const before = text.slice(0, caret);
  const at = before.split("\n").length - 1;
  const lines = text.split("\n");
  const line = lines[at] ?? "";
  let path = pathTo(lines, at);
  const column = caret - before.lastIndexOf("\n") - 1;
  const open = line.slice(0, column).split("{").length - line.slice(0, column).split("}").length;
  if (open > 0) {
    const inner = [...line.slice(0, column).matchAll(/([A-Za-z_]+):\s*\{/g)].map((m) => m[1]!);
    const own = keyOf(line);
    path = [
      ...path,
      ...(own && !line.trimStart().startsWith("- ") && inner[0] !== own ? [own] : []),
      ...inner.slice(-Math.max(0, open - (line.trimStart().startsWith("- ") ? 1 : 0))),
    ];
  }
  let node = resolved(root);
  for (const key of path) {
    node = resolved(node?.properties?.[key]);
    if (node?.items) node = resolved(node.items);
  }
  const there = open > 0 ? line : lines.filter((l) => path.length === 0 && indent(l) === 0).join("\n");
  const keys = Object.keys(node?.properties ?? {}).filter((k) => !new RegExp(`(^|[\\s{,])${k}:`, "m").test(there));
  return { path: path.join(", "), keys };
}
