// The OpenAPI document as tests use it: every route, and whether an answer is what the document says.
import { Ajv, type ValidateFunction } from 'ajv';

type Json = Record<string, unknown>;

export interface Operation {
  readonly operationId: string;
  readonly parameters: readonly { readonly name: string; readonly in: 'path' | 'query' }[];
  readonly requestBody?: {
    readonly content: {
      readonly 'application/json': { readonly schema: { readonly $ref: string } };
    };
  };
  readonly responses: Readonly<
    Record<string, { readonly content?: Record<string, { readonly schema: Json }> }>
  >;
}

export interface Document {
  readonly paths: Record<string, Record<string, Operation>>;
  readonly components: {
    readonly schemas: Record<
      string,
      { readonly properties?: Record<string, Json>; readonly required?: readonly string[] }
    >;
  };
}

/** OpenAPI 3.0 as JSON Schema: what may be null says so, and what is not described may not be there. */
function asJsonSchema(value: unknown, isPart = false): unknown {
  if (Array.isArray(value)) return value.map((one) => asJsonSchema(one));
  if (typeof value !== 'object' || value === null) return value;
  const { nullable, ...rest } = value as Json;
  const made: Json = Object.fromEntries(
    Object.entries(rest).map(([key, one]) => [
      key,
      key === 'allOf' && Array.isArray(one)
        ? one.map((part) => asJsonSchema(part, true))
        : asJsonSchema(one),
    ]),
  );
  if (made['type'] === 'object' && made['properties'] && !isPart)
    made['additionalProperties'] ??= false;
  return nullable ? { anyOf: [made, { type: 'null' }] } : made;
}

/** Says what is wrong with the answer of a route, or undefined when it is as described. */
export function answers({
  paths,
  components,
}: Document): (operationId: string, status: number, body: unknown) => string | undefined {
  const ajv = new Ajv({ strict: false, validateFormats: false });
  ajv.addSchema({ $id: 'doc', ...(asJsonSchema({ components }) as Json) });
  const validators = new Map<string, ValidateFunction>();
  for (const methods of Object.values(paths))
    for (const { operationId, responses } of Object.values(methods))
      for (const [status, { content = {} }] of Object.entries(responses)) {
        const schema = content['application/json']?.schema;
        if (!schema) continue;
        const text = JSON.stringify(asJsonSchema(schema)).replaceAll('"#/', '"doc#/');
        validators.set(`${operationId} ${status}`, ajv.compile(JSON.parse(text) as Json));
      }
  return (operationId, status, body) => {
    const validate = validators.get(`${operationId} ${status}`);
    if (!validate) return `nothing is said of ${operationId} answering ${status}`;
    return validate(body) ? undefined : `${operationId}: ${ajv.errorsText(validate.errors)}`;
  };
}
