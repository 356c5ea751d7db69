/** What was changed elsewhere beside what is typed here: told field by field, and put together. */

type Json = unknown;
type Tree = Record<string, Json>;

/** One field that is other elsewhere: as it was when this form began, as it is here, and there. */
export interface Differing {
  path: string;
  mine: Json;
  theirs: Json;
  /** Whether it was changed here too: else what is there is simply newer. */
  both: boolean;
}

const isTree = (value: Json): value is Tree =>
  typeof value === "object" && value !== null && !Array.isArray(value);
const same = (a: Json, b: Json): boolean => JSON.stringify(a ?? null) === JSON.stringify(b ?? null);

/** Rows that are known by their id, as a tree of them; other lists stay whole. */
function rooted(value: Json): Json {
  const rows = Array.isArray(value) && value.length > 0 && value.every(isTree) ? value : null;
  if (!rows?.some((row) => "id" in row)) return value;
  return Object.fromEntries(
    rows.map((row, at) => [row.id === undefined ? `new ${at}` : `#${String(row.id)}`, row]),
  );
}

/** What differs, of the fields the form has. */
export function differing(began: Tree, mine: Tree, theirs: Tree, under = ""): Differing[] {
  return Object.keys(mine).flatMap((name) => {
    const path = under ? `${under}.${name}` : name;
    const [was, here, there] = [began[name], mine[name], theirs[name]].map(rooted);
    if (name === "id" || name === "version" || same(there, was) || same(there, here)) return [];
    if (isTree(here) && isTree(there) && isTree(was ?? {})) {
      const names = { ...there, ...here };
      const full = (tree: Json): Tree =>
        Object.fromEntries(Object.keys(names).map((key) => [key, (tree as Tree)?.[key]]));
      return differing(full(was), full(here), full(there), path);
    }
    return [{ path, mine: here, theirs: there, both: !same(here, was) }];
  });
}

/** The form with some of what is there in the place of what is here. */
export function together(mine: Tree, theirs: Tree, chosen: string[]): Tree {
  const result = structuredClone(mine);
  for (const path of chosen) put(result, theirs, path.split("."));
  return result;
}

function put(into: Tree, from: Tree, [name, ...rest]: string[]): void {
  if (name === undefined) return;
  const [there, here] = [from?.[name], into[name]];
  if (!rest.length) {
    // what is not there is nothing in JSON
    into[name] = there === undefined ? undefined : structuredClone(there);
  } else if (Array.isArray(here)) {
    into[name] = rowsWith(here as Tree[], (there ?? []) as Tree[], rest);
  } else if (isTree(here) && isTree(there)) put(here, there, rest);
}

/** Rows with one of them as it is there: changed, added where it stands there, or taken out. */
function rowsWith(here: Tree[], there: Tree[], [key = "", ...rest]: string[]): Tree[] {
  const is = (row: Tree): boolean => `#${String(row.id)}` === key;
  const at = there.findIndex(is);
  const row = there[at];
  if (!row) return here.filter((own) => !is(own));
  if (here.some(is)) {
    return here.map((own) => {
      if (!is(own)) return own;
      if (!rest.length) return structuredClone(row);
      const changed = structuredClone(own);
      put(changed, row, rest);
      return changed;
    });
  }
  const before = there[at - 1];
  const place = before ? here.findIndex((own) => own.id === before.id) + 1 : 0;
  return [...here.slice(0, place), structuredClone(row), ...here.slice(place)];
}

/** A field's name as a person says it; a row by its own name. */
export function pathWords(path: string, trees: Tree[]): string {
  const words: string[] = [];
  let at: Json[] = trees;
  for (const name of path.split(".")) {
    at = at.map((tree) => (isTree(tree) ? rooted(tree[name]) : undefined));
    const row = at.find((tree) => isTree(tree) && typeof tree.name === "string") as
      Tree | undefined;
    const known = name.startsWith("#") || name.startsWith("new ");
    words.push(
      known
        ? String(row?.name ?? "one of them")
        : name.replace(/_(cm|kg|h|pct|umol_s|nm)$/, "").replaceAll("_", " "),
    );
  }
  return words.join(", ");
}

/** A value as a person says it. */
export function valueWords(value: Json): string {
  if (value === undefined) return "not there";
  if (value === null || value === "") return "nothing";
  if (value === true || value === false) return value ? "yes" : "no";
  if (isTree(value)) return typeof value.name === "string" ? `“${value.name}”` : "set otherwise";
  return Array.isArray(value) ? `${value.length} rows` : String(value as string | number);
}
