// What every route answers, as JSON Schema: read from the declared return types of the controllers, so that nothing
// is said a second time by hand. Written beside the built server, for its OpenAPI document.
import { readdirSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import ts from 'typescript';

const root = dirname(dirname(fileURLToPath(import.meta.url)));

const ROUTES = new Set(['Get', 'Post', 'Put', 'Patch', 'Delete', 'Sse']);
const METHODS = new Set(['Sse']);

const decoratorsOf = (node) =>
  (ts.getDecorators(node) ?? []).flatMap(({ expression }) =>
    ts.isCallExpression(expression) ? [expression.expression.getText()] : [],
  );

/** Schemas of types; those with a name of their own are written once, under it. */
class Schemas {
  named = {};

  constructor(checker) {
    this.checker = checker;
  }

  of(type) {
    const name = this.nameOf(type);
    if (name === undefined) return this.inline(type);
    if (!(name in this.named)) {
      this.named[name] = {};
      this.named[name] = this.inline(type);
    }
    return { $ref: `#/components/schemas/${name}` };
  }

  /** Interfaces and aliases of ours that stand for themselves. */
  nameOf(type) {
    const symbol = type.aliasSymbol ?? type.symbol;
    if (!symbol || type.aliasTypeArguments?.length || type.typeArguments?.length) return undefined;
    const declared = symbol.declarations?.[0];
    const file = declared?.getSourceFile().fileName ?? '';
    if (!/\/packages\/(contract|core)\//.test(file)) return undefined;
    const isOwn = ts.isInterfaceDeclaration(declared) || ts.isTypeAliasDeclaration(declared);
    return isOwn && !/^(string|number|boolean)$/.test(symbol.name) && this.isShape(type)
      ? symbol.name
      : undefined;
  }

  isShape(type) {
    return type.isUnion()
      ? type.types.some((one) => one.flags & ts.TypeFlags.Object)
      : Boolean(type.flags & ts.TypeFlags.Object);
  }

  inline(type) {
    const { checker } = this;
    const { flags } = type;
    if (flags & ts.TypeFlags.Any) throw new Error('a part of a reply has no type that can be read');
    if (flags & ts.TypeFlags.Unknown) return {};
    if (type.isStringLiteral()) return { type: 'string', enum: [type.value] };
    if (type.isNumberLiteral()) return { type: 'number', enum: [type.value] };
    if (flags & ts.TypeFlags.BooleanLiteral)
      return { type: 'boolean', enum: [checker.typeToString(type) === 'true'] };
    if (flags & ts.TypeFlags.StringLike) return { type: 'string' };
    if (flags & ts.TypeFlags.NumberLike) return { type: 'number' };
    if (flags & ts.TypeFlags.BooleanLike) return { type: 'boolean' };
    if (type.isUnion()) return this.union(type);
    // An id is a number with a brand, which nobody sends.
    const bare = type.isIntersection()
      ? type.types.find((one) => one.flags & (ts.TypeFlags.NumberLike | ts.TypeFlags.StringLike))
      : undefined;
    if (bare) return this.of(bare);
    if (checker.isTupleType(type))
      return { type: 'array', items: {}, minItems: type.typeArguments?.length ?? 0 };
    if (checker.isArrayType(type))
      return { type: 'array', items: this.of(checker.getTypeArguments(type)[0]) };
    return this.object(type);
  }

  union(type) {
    const isNothing = (one) => one.flags & (ts.TypeFlags.Null | ts.TypeFlags.Undefined);
    const isNullable = type.types.some((one) => one.flags & ts.TypeFlags.Null);
    const rest = type.types.filter((one) => !isNothing(one));
    const schema = this.alternatives(rest);
    if (!isNullable) return schema;
    return '$ref' in schema ? { allOf: [schema], nullable: true } : { ...schema, nullable: true };
  }

  alternatives(types) {
    if (types.length === 1) return this.of(types[0]);
    if (types.every((one) => one.isStringLiteral()))
      return { type: 'string', enum: types.map(({ value }) => value) };
    if (types.every((one) => one.flags & ts.TypeFlags.BooleanLiteral)) return { type: 'boolean' };
    return { anyOf: types.map((one) => this.of(one)) };
  }

  object(type) {
    const { checker } = this;
    const index = checker.getIndexInfoOfType(type, ts.IndexKind.String);
    const properties = {};
    const required = [];
    for (const property of checker.getPropertiesOfType(type)) {
      const of = checker.getTypeOfSymbol(property);
      if (of.getCallSignatures().length > 0) continue;
      properties[property.name] = this.of(of);
      const comment = ts.displayPartsToString(property.getDocumentationComment(checker));
      if (comment && !('$ref' in properties[property.name]))
        properties[property.name].description = comment;
      if (!(property.flags & ts.SymbolFlags.Optional)) required.push(property.name);
    }
    return {
      type: 'object',
      ...(Object.keys(properties).length > 0 ? { properties } : {}),
      ...(required.length > 0 ? { required } : {}),
      ...(index ? { additionalProperties: this.of(index.type) } : {}),
    };
  }
}

/** Writes `{ replies: { 'People.list': schema }, schemas }` for the routes of all controllers. */
function writeReplies() {
  const config = ts.getParsedCommandLineOfConfigFile(
    join(root, 'tsconfig.json'),
    {},
    {
      ...ts.sys,
      onUnRecoverableConfigFileDiagnostic: ({ messageText }) => {
        throw new Error(ts.flattenDiagnosticMessageText(messageText, '\n'));
      },
    },
  );
  const server = join(root, 'apps/server/src');
  const files = readdirSync(server, { recursive: true })
    .filter((file) => file.endsWith('.controller.ts'))
    .map((file) => join(server, file));
  // Replies are made of the contract and core; nothing else is looked into, which takes a tenth of the time.
  const options = { ...config.options, incremental: false };
  const host = ts.createCompilerHost(options);
  host.resolveModuleNameLiterals = (names, from) =>
    names.map(({ text }) =>
      text.startsWith('@palabra/') || /\/packages\/(contract|core)\//.test(from)
        ? ts.resolveModuleName(text, from, options, host)
        : { resolvedModule: undefined },
    );
  const program = ts.createProgram(files, options, host);
  const checker = program.getTypeChecker();
  const schemas = new Schemas(checker);
  const replies = {};
  for (const file of files) {
    for (const controller of program.getSourceFile(file).statements) {
      if (!ts.isClassDeclaration(controller)) continue;
      for (const method of controller.members) {
        if (!ts.isMethodDeclaration(method)) continue;
        const decorators = decoratorsOf(method);
        if (!decorators.some((name) => ROUTES.has(name))) continue;
        if (decorators.some((name) => METHODS.has(name))) continue;
        const returned = checker.getReturnTypeOfSignature(
          checker.getSignatureFromDeclaration(method),
        );
        const reply = checker.getAwaitedType(returned) ?? returned;
        if (reply.flags & (ts.TypeFlags.Void | ts.TypeFlags.Undefined)) continue;
        const name = controller.name.text.replace(/Controller$/, '');
        const route = `${name}.${method.name.getText()}`;
        if (reply.flags & ts.TypeFlags.Any)
          throw new Error(`what ${route} answers is no type of the contract: declare one`);
        replies[route] = schemas.of(reply);
      }
    }
  }
  writeFileSync(
    join(root, 'apps/server/dist/replies.json'),
    JSON.stringify({ replies, schemas: schemas.named }, undefined, 1),
  );
}

writeReplies();
