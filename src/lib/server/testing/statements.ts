import { readdirSync } from 'node:fs';
import { join, resolve } from 'node:path';
import ts from 'typescript';

/** One call that runs a statement whose rows have a type written by hand. */
export interface TypedStatement {
	/** file and line */
	at: string;
	/** every text the call may run: a condition in it makes two */
	texts: string[];
	/** what could not be worked out without running the program; then `texts` is empty */
	unknown: string | null;
	columns: { name: string; /** without null */ type: string; nullable: boolean; optional: boolean }[];
}

const RUNNERS = new Set(['rows', 'first', 'queryOutsideFirm']);
/** More texts than this come from conditions that are not independent of each other. */
const TEXTS_MAX = 64;

class Unknown extends Error {}

/** What an expression yields, as far as it follows from the source: every value it may have. */
type Values = (string | Lambda)[];
interface Lambda {
	parameters: ts.NodeArray<ts.ParameterDeclaration>;
	body: ts.Expression;
	scope: Scope;
}
type Scope = Map<ts.Symbol, Values>;

/**
 * Finds all typed statements of the source, with their texts as they are sent.
 * @param folder of the project
 * @param inside folders that are searched, without tests
 */
export function typedStatements(folder: string, inside: string[]): TypedStatement[] {
	const config = ts.getParsedCommandLineOfConfigFile(
		join(folder, 'tsconfig.json'),
		{},
		{ ...ts.sys, onUnRecoverableConfigFileDiagnostic: () => {} }
	)!;
	const files = inside.flatMap((one) =>
		readdirSync(join(folder, one), { recursive: true, encoding: 'utf8' })
			.filter((name) => name.endsWith('.ts') && !name.endsWith('.test.ts') && !name.startsWith('testing/'))
			.map((name) => resolve(folder, one, name))
	);
	const program = ts.createProgram(files, { ...config.options, noEmit: true });
	const checker = program.getTypeChecker();
	const found: TypedStatement[] = [];

	const combine = (parts: Values[]): Values => {
		let all: string[] = [''];
		for (const part of parts) {
			all = all.flatMap((before) =>
				part.map((value) => {
					if (typeof value !== 'string') throw new Unknown('a function inside a text');
					return before + value;
				})
			);
			if (all.length > TEXTS_MAX) throw new Unknown('too many texts');
		}
		return all;
	};

	function valuesOf(node: ts.Expression, scope: Scope): Values {
		if (ts.isParenthesizedExpression(node) || ts.isAsExpression(node) || ts.isSatisfiesExpression(node) || ts.isNonNullExpression(node))
			return valuesOf(node.expression, scope);
		if (ts.isStringLiteralLike(node) || ts.isNumericLiteral(node)) return [node.text];
		if (ts.isTemplateExpression(node))
			return combine([[node.head.text], ...node.templateSpans.flatMap((span) => [valuesOf(span.expression, scope), [span.literal.text]])]);
		if (ts.isConditionalExpression(node)) return [...valuesOf(node.whenTrue, scope), ...valuesOf(node.whenFalse, scope)];
		if (ts.isBinaryExpression(node) && node.operatorToken.kind === ts.SyntaxKind.PlusToken)
			return combine([valuesOf(node.left, scope), valuesOf(node.right, scope)]);
		if (ts.isBinaryExpression(node) && node.operatorToken.kind === ts.SyntaxKind.QuestionQuestionToken)
			return [...valuesOf(node.left, scope), ...valuesOf(node.right, scope)];
		if (ts.isArrowFunction(node) && !ts.isBlock(node.body)) return [{ parameters: node.parameters, body: node.body, scope }];
		if (ts.isIdentifier(node) || ts.isPropertyAccessExpression(node)) return valuesOfName(node, scope);
		if (ts.isCallExpression(node)) return valuesOfCall(node, scope);
		return valuesOfType(node);
	}
	/** All strings of a union of literals: whatever the program does, it is one of them. */
	function valuesOfType(node: ts.Expression): Values {
		const type = checker.getTypeAtLocation(node);
		const parts = type.isUnion() ? type.types : [type];
		if (parts.every((part) => part.isStringLiteral())) return parts.map((part) => (part as ts.StringLiteralType).value);
		if (parts.every((part) => part.flags & ts.TypeFlags.NumberLike)) return ['1'];
		throw new Unknown(node.getText().slice(0, 60));
	}
	function valuesOfName(node: ts.Identifier | ts.PropertyAccessExpression, scope: Scope): Values {
		let symbol = checker.getSymbolAtLocation(node);
		if (symbol && symbol.flags & ts.SymbolFlags.Alias) symbol = checker.getAliasedSymbol(symbol);
		if (!symbol) return valuesOfType(node);
		const given = scope.get(symbol);
		if (given) return given;
		const declared = symbol.valueDeclaration;
		if (declared && ts.isVariableDeclaration(declared) && declared.initializer && ts.getCombinedNodeFlags(declared) & ts.NodeFlags.Const) {
			try {
				return valuesOf(declared.initializer, scope);
			} catch (error) {
				if (!(error instanceof Unknown)) throw error;
				return valuesOfType(node);
			}
		}
		if (declared && ts.isPropertyAssignment(declared) && ts.isPropertyAccessExpression(node)) return valuesOf(declared.initializer, scope);
		if (declared && ts.isFunctionDeclaration(declared) && declared.body?.statements.length === 1) {
			const only = declared.body.statements[0];
			if (ts.isReturnStatement(only) && only.expression) return [{ parameters: declared.parameters, body: only.expression, scope }];
		}
		return valuesOfType(node);
	}
	function valuesOfCall(node: ts.CallExpression, scope: Scope): Values {
		const { expression } = node;
		if (ts.isPropertyAccessExpression(expression) && expression.name.text === 'replace' && node.arguments.every(ts.isStringLiteralLike))
			return valuesOf(expression.expression, scope).map((value) =>
				(value as string).replace((node.arguments[0] as ts.StringLiteral).text, (node.arguments[1] as ts.StringLiteral).text)
			);
		if (!ts.isIdentifier(expression)) throw new Unknown(node.getText().slice(0, 60));
		return valuesOf(expression, scope).flatMap((called) => {
			if (typeof called === 'string') throw new Unknown(node.getText().slice(0, 60));
			const inner: Scope = new Map(called.scope);
			called.parameters.forEach((parameter, at) => {
				const symbol = checker.getSymbolAtLocation(parameter.name);
				const argument = node.arguments[at] ?? parameter.initializer;
				if (!symbol || !argument) return;
				try {
					inner.set(symbol, valuesOf(argument, scope));
				} catch (error) {
					// what only decides between texts need not be known
					if (!(error instanceof Unknown)) throw error;
				}
			});
			return valuesOf(called.body, inner);
		});
	}

	/** Whether a type has null, and the rest of it as it is written. */
	function columnOf(property: ts.Symbol, at: ts.Node): TypedStatement['columns'][number] {
		const type = checker.getTypeOfSymbolAtLocation(property, at);
		const rest = checker.getNonNullableType(type);
		const parts = rest.isUnion() ? rest.types : [rest];
		const kind = (part: ts.Type): string => {
			if (part.flags & ts.TypeFlags.StringLike) return 'string';
			if (part.flags & ts.TypeFlags.NumberLike) return 'number';
			if (part.flags & ts.TypeFlags.BooleanLike) return 'boolean';
			if (part.flags & (ts.TypeFlags.Unknown | ts.TypeFlags.Any)) return 'unknown';
			if (checker.isArrayType(part)) return `${[...new Set(elementsOf(part).map(kind))].join('|')}[]`;
			return part.symbol?.name === 'Buffer' || part.symbol?.name === 'Uint8Array' ? 'Buffer' : 'object';
		};
		const elementsOf = (array: ts.Type): ts.Type[] => {
			const [element] = checker.getTypeArguments(array as ts.TypeReference);
			const bare = checker.getNonNullableType(element);
			return bare.isUnion() ? bare.types : [bare];
		};
		return {
			name: property.name,
			type: [...new Set(parts.map(kind))].sort().join('|'),
			nullable: rest !== type || (type.flags & (ts.TypeFlags.Unknown | ts.TypeFlags.Any)) !== 0,
			optional: (property.flags & ts.SymbolFlags.Optional) !== 0
		};
	}

	const visit = (node: ts.Node): void => {
		if (
			ts.isCallExpression(node) &&
			ts.isPropertyAccessExpression(node.expression) &&
			RUNNERS.has(node.expression.name.text) &&
			node.typeArguments?.length === 1 &&
			node.arguments.length > 0
		) {
			const source = node.getSourceFile();
			const row = checker.getTypeFromTypeNode(node.typeArguments[0]);
			const statement: TypedStatement = {
				at: `${source.fileName.slice(folder.length + 1)}:${source.getLineAndCharacterOfPosition(node.getStart()).line + 1}`,
				texts: [],
				unknown: null,
				columns: row.getProperties().map((property) => columnOf(property, node))
			};
			if (!(row.flags & ts.TypeFlags.TypeParameter)) {
				try {
					statement.texts = [...new Set(combine([valuesOf(node.arguments[0], new Map())]) as string[])];
				} catch (error) {
					if (!(error instanceof Unknown)) throw error;
					statement.unknown = error.message;
				}
				found.push(statement);
			}
		}
		ts.forEachChild(node, visit);
	};
	for (const file of files) visit(program.getSourceFile(file)!);
	return found;
}
