import fc from "fast-check";

/** As much of JSON Schema as the API's description uses. */
interface Schema {
  readonly $ref?: string;
  readonly type?: string | readonly string[];
  readonly const?: unknown;
  readonly enum?: readonly unknown[];
  readonly anyOf?: readonly Schema[];
  readonly oneOf?: readonly Schema[];
  readonly allOf?: readonly Schema[];
  readonly properties?: Readonly<Record<string, Schema>>;
  readonly required?: readonly string[];
  readonly additionalProperties?: Schema | boolean;
  readonly items?: Schema;
  readonly prefixItems?: readonly Schema[];
  readonly minItems?: number;
  readonly maxItems?: number;
  readonly minimum?: number;
  readonly maximum?: number;
  readonly minLength?: number;
  readonly maxLength?: number;
  readonly format?: string;
  readonly pattern?: string;
}
interface Operation {
  readonly requestBody?: { readonly content: Readonly<Record<string, { readonly schema: Schema }>> };
  readonly parameters?: readonly { readonly name: string; readonly in: string; readonly schema: Schema }[];
}
export interface ApiDescription {
  readonly paths: Readonly<Record<string, Readonly<Record<string, Operation>>>>;
  readonly components: { readonly schemas: Readonly<Record<string, Schema>> };
}

/** One request that somebody may send. */
export interface Shot {
  readonly method: "GET" | "POST" | "PUT";
  readonly path: string;
  readonly body: string | undefined;
  /** What the body says it is; JSON when it says nothing. */
  readonly type?: string;
}

/** Texts that have broken programs before, beside ordinary ones. */
const text = (max: number, min = 0): fc.Arbitrary<string> =>
  fc.oneof(
    { weight: 30, arbitrary: fc.string({ minLength: Math.min(min, 60), maxLength: Math.min(max, 60) }) },
    {
      weight: 2,
      arbitrary: fc.constantFrom(
        "",
        " ",
        "\u0000",
        "\ud800",
        "😀",
        "__proto__",
        "constructor",
        "NaN",
        "9999-12-31T23:59:59.9999999Z",
        "0000-01-01T00:00:00Z",
        "'; drop table events; --",
        "%",
        "\\",
        "../../etc/passwd",
        "<script>",
        "\u202e",
        "x".repeat(Math.min(max + 1, 5000)),
        '{"a":1}',
        "BAT -- F1",
      ),
    },
  );
const MOMENT = fc.oneof({ weight: 30, arbitrary: fc.constant("2026-05-20T10:00:00.000Z") }, { weight: 1, arbitrary: text(40) });
const number: fc.Arbitrary<number> = fc.oneof(
  fc.integer(),
  fc.double({ noNaN: true }),
  fc.constantFrom(0, -0, 1, -1, 1e308, 5e-324, 2 ** 53, -(2 ** 31), 1e21),
);

/** What begins like an archive, or ends like one, and is none; whole ones have tests of their own. */
const archive = fc
  .tuple(
    fc.constantFrom("", "PK\u0003\u0004", "PK\u0005\u0006"),
    fc.string({ maxLength: 200 }),
    fc.constantFrom("", "PK\u0005\u0006" + "\0".repeat(18)),
  )
  .map((parts) => parts.join(""));

/** Values that mostly keep to a schema, and sometimes do not. `ids`: ids that mean something to the server. */
export function shots(
  api: ApiDescription,
  ids: { readonly jobs: readonly string[]; readonly vehicles: readonly string[] },
): fc.Arbitrary<Shot> {
  const id = fc.oneof({ weight: 4, arbitrary: fc.constantFrom(...ids.jobs) }, { weight: 1, arbitrary: fc.uuid({ version: 7 }) });
  const freshId = fc.oneof({ weight: 9, arbitrary: fc.uuid({ version: 7 }) }, { weight: 1, arbitrary: id });
  const anything = fc.jsonValue({ maxDepth: 3 }) as fc.Arbitrary<unknown>;
  const nested = (depth: number): fc.Arbitrary<unknown> =>
    fc.constant(null).map(() => JSON.parse(`${"[".repeat(depth)}${"]".repeat(depth)}`) as unknown);

  const of = (schema: Schema, depth: number): fc.Arbitrary<unknown> => {
    if (depth > 20) return anything;
    const kept = keeping(schema, depth);
    return fc.oneof(
      { weight: 90, arbitrary: kept },
      { weight: 1, arbitrary: anything },
      { weight: 1, arbitrary: fc.constantFrom(null, [], {}, "", -1) },
    );
  };
  function keeping(s: Schema, depth: number): fc.Arbitrary<unknown> {
    if (s.$ref !== undefined) return of(api.components.schemas[s.$ref.split("/").at(-1)!]!, depth + 1);
    if (s.const !== undefined) return fc.constant(s.const);
    if (s.enum !== undefined) return fc.constantFrom(...s.enum);
    const options = s.anyOf ?? s.oneOf;
    if (options !== undefined) return fc.oneof(...options.map((o) => of(o, depth + 1)));
    if (s.format === "date-time" || s.allOf?.some((part) => part.pattern?.startsWith("^20") === true) === true) return MOMENT;
    if (s.allOf !== undefined) return of({ ...s, ...Object.assign({}, ...s.allOf), allOf: undefined } as unknown as Schema, depth + 1);
    switch (Array.isArray(s.type) ? s.type[0] : s.type) {
      case "object":
        return objectOf(s, depth);
      case "array": {
        if (s.prefixItems !== undefined) return fc.tuple(...s.prefixItems.map((i) => of(i, depth + 1)));
        const most = Math.min(s.maxItems ?? 4, 4);
        return fc.array(of(s.items ?? {}, depth + 1), { minLength: Math.min(s.minItems ?? 0, most), maxLength: most });
      }
      case "string":
        if (s.pattern?.includes("-7[0-9a-f]{3}") === true) return id;
        if (s.pattern !== undefined)
          return fc.oneof({ weight: 30, arbitrary: fc.stringMatching(new RegExp(s.pattern)) }, { weight: 1, arbitrary: text(40) });
        return text(s.maxLength ?? 200, s.minLength ?? 0);
      case "integer":
      case "number":
        return fc.oneof(
          {
            weight: 12,
            arbitrary: fc.integer({ min: Math.ceil(Math.max(s.minimum ?? -100, -1e6)), max: Math.floor(Math.min(s.maximum ?? 100, 1e6)) }),
          },
          { weight: 1, arbitrary: number },
        );
      case "boolean":
        return fc.boolean();
      case "null":
        return fc.constant(null);
      default:
        return anything;
    }
  }
  function objectOf(s: Schema, depth: number): fc.Arbitrary<unknown> {
    const shape = Object.fromEntries(
      Object.entries(s.properties ?? {}).map(([name, part]) => [name, name === "id" ? freshId : of(part, depth + 1)]),
    );
    const known = fc.record(shape, { requiredKeys: (s.required ?? []).filter((name) => name in shape) });
    if (typeof s.additionalProperties !== "object") return known;
    return fc.dictionary(text(20), of(s.additionalProperties, depth + 1), { maxKeys: 4 });
  }

  const operations = Object.entries(api.paths).flatMap(([path, methods]) =>
    Object.entries(methods).map(([method, operation]) => ({ path, method: method.toUpperCase() as Shot["method"], operation })),
  );
  // Printing and drawing a fault take a while each; they have tests of their own.
  const quick = operations.filter((o) => !o.path.endsWith(".pdf") && o.path !== "/api/practice");
  return fc.oneof(
    ...quick.map(({ path, method, operation }) => {
      const [type, asks] = Object.entries(operation.requestBody?.content ?? {})[0] ?? [];
      const body =
        asks === undefined
          ? fc.constant(undefined)
          : fc.oneof(
              { weight: 20, arbitrary: type === "application/json" ? of(asks.schema, 0).map((v) => JSON.stringify(v)) : archive },
              { weight: 1, arbitrary: fc.oneof(nested(200), anything).map((v) => JSON.stringify(v)) },
              { weight: 1, arbitrary: fc.string({ maxLength: 200 }) },
            );
      const place = fc.record({
        id: path.startsWith("/api/vehicles") ? fc.oneof(fc.constantFrom(...ids.vehicles), text(30)) : id,
        version: fc.constantFrom("1", "2", "0", "-1", "x", "1e9"),
      });
      const query = fc.array(fc.tuple(fc.constantFrom("search", "stage", "sort", "order", "limit", "offset", "after", "x"), text(20)), {
        maxLength: 3,
      });
      return fc.tuple(place, query, body).map(([at, asked, sent]): Shot => {
        const filled = path.replace("{id}", encode(at.id)).replace("{version}", encode(at.version)).replace("{connector}", "C1");
        const search = method === "GET" ? asked.map(([k, v]) => `${k}=${encode(v)}`).join("&") : "";
        // Events belong to the job of their address oftener than chance would have it.
        const own = sent?.replaceAll(/"jobId":"[^"]*"/g, (found) => (at.id.length === 36 ? `"jobId":"${at.id}"` : found));
        return { method, path: search === "" ? filled : `${filled}?${search}`, body: own, ...(type === undefined ? {} : { type }) };
      });
    }),
  );
}

/** Half a character has no form in an address; it stands for itself as it would be typed. */
function encode(part: string): string {
  try {
    return encodeURIComponent(part);
  } catch {
    return "%ED%A0%80";
  }
}
