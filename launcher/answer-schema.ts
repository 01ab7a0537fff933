import ts from 'typescript';
import { isAnyJson, type JsonSchema } from '../src/core/accounts/programs/openapi.ts';

/**
 * Says in JSON Schema what values of TypeScript types look like once they were sent as JSON: dates are text, what is not sent
 * is absent. Types that have a name stand in `defs`, each once, so that they may hold themselves.
 */
export class AnswerSchemas {
  readonly defs: Record<string, JsonSchema> = {};
  readonly #names = new Map<ts.Type, string>();
  /** Nameless shapes within each other; those that hold themselves end. */
  #deep = 0;

  constructor(readonly checker: ts.TypeChecker) {}

  of(type: ts.Type): JsonSchema {
    const { flags } = type;
    if (flags & (ts.TypeFlags.Any | ts.TypeFlags.Unknown)) return true;
    if (flags & ts.TypeFlags.Never) return false;
    if (flags & ts.TypeFlags.Null) return { type: 'null' };
    if (flags & (ts.TypeFlags.Undefined | ts.TypeFlags.Void)) return true;
    if (type.isStringLiteral() || type.isNumberLiteral()) return { const: type.value };
    if (flags & ts.TypeFlags.BooleanLiteral) return { const: this.checker.typeToString(type) === 'true' };
    if (flags & ts.TypeFlags.Boolean) return { type: 'boolean' };
    if (flags & ts.TypeFlags.StringLike) return { type: 'string' };
    if (flags & ts.TypeFlags.NumberLike) return { type: 'number' };
    if (flags & ts.TypeFlags.BigIntLike) return { type: 'integer' };
    const named = this.#named(type);
    if (named !== undefined) return named;
    if (this.#deep >= MOST_DEEP) return true;
    this.#deep += 1;
    try {
      return this.#shape(type);
    } finally {
      this.#deep -= 1;
    }
  }

  /** Where a type has a name of its own, a reference to it. */
  #named(type: ts.Type): JsonSchema | undefined {
    const symbol = type.aliasSymbol ?? (type.isClassOrInterface() ? type.symbol : undefined);
    const isOwn = symbol?.declarations?.some((d) => !d.getSourceFile().fileName.includes('node_modules'));
    const known = this.#names.get(type);
    if (known !== undefined) return { $ref: `#/components/schemas/${known}` };
    if (!symbol || !isOwn || (type.aliasTypeArguments?.length ?? 0) > 0) return undefined;
    let name = symbol.name;
    for (let n = 2; name in this.defs; n++) name = `${symbol.name}${n}`;
    this.#names.set(type, name);
    // Before its parts, which may refer to it.
    this.defs[name] = true;
    const shape = this.#shape(type);
    // Any JSON says nothing of itself, and a type that holds itself so is one that no client can be made of.
    this.defs[name] = isAnyJson(shape) ? true : shape;
    return { $ref: `#/components/schemas/${name}` };
  }

  #shape(type: ts.Type): JsonSchema {
    if (type.isUnion()) return this.#union(type.types);
    const { checker } = this;
    if (checker.isArrayType(type))
      return {
        type: 'array',
        items: this.of(checker.getTypeArguments(type as ts.TypeReference)[0] as ts.Type),
      };
    if (checker.isTupleType(type)) {
      const items = checker.getTypeArguments(type as ts.TypeReference).map((t) => this.of(t));
      return { type: 'array', prefixItems: items };
    }
    const toJson = type.getProperty('toJSON');
    if (type.symbol?.name === 'Date' || toJson) return { type: 'string', format: 'date-time' };
    if (type.getCallSignatures().length > 0) return true;
    return this.#object(type);
  }

  #object(type: ts.Type): JsonSchema {
    const { checker } = this;
    const properties: Record<string, JsonSchema> = {};
    const required: string[] = [];
    for (const property of checker.getPropertiesOfType(type)) {
      if (property.name.startsWith('__@')) continue;
      const of = checker.getTypeOfSymbol(property);
      if (of.getCallSignatures().length > 0) continue;
      properties[property.name] = this.of(of);
      const mayMiss =
        (property.flags & ts.SymbolFlags.Optional) !== 0 ||
        (of.flags & ts.TypeFlags.Undefined) !== 0 ||
        (of.isUnion() && of.types.some((t) => t.flags & ts.TypeFlags.Undefined));
      if (!mayMiss) required.push(property.name);
    }
    const index = checker.getIndexInfoOfType(type, ts.IndexKind.String);
    return {
      type: 'object',
      ...(Object.keys(properties).length > 0 ? { properties } : {}),
      ...(required.length > 0 ? { required } : {}),
      ...(index ? { additionalProperties: this.of(index.type) } : {}),
    };
  }

  #union(types: readonly ts.Type[]): JsonSchema {
    const kept = types.filter((t) => !(t.flags & (ts.TypeFlags.Undefined | ts.TypeFlags.Void)));
    const literals = kept.flatMap((t) => (t.isStringLiteral() || t.isNumberLiteral() ? [t.value] : []));
    const booleans = kept.filter((t) => t.flags & ts.TypeFlags.BooleanLiteral);
    const rest = kept.filter(
      (t) => !t.isStringLiteral() && !t.isNumberLiteral() && !(t.flags & ts.TypeFlags.BooleanLiteral),
    );
    const parts: JsonSchema[] = [
      ...(literals.length > 0 ? [literals.length === 1 ? { const: literals[0] } : { enum: literals }] : []),
      ...(booleans.length === 2 ? [{ type: 'boolean' }] : booleans.map((t) => this.of(t))),
      ...rest.map((t) => this.of(t)),
    ];
    if (parts.length === 0) return true;
    return parts.length === 1 ? (parts[0] as JsonSchema) : { anyOf: parts };
  }
}

const MOST_DEEP = 12;
