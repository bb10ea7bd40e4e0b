import { createHash } from 'node:crypto';

/** PostgreSQL cuts longer names off. */
const NAME_MAX = 63;
const names = new Map<string, string>();
/** The frames between a use case and here say nothing about the statement. */
const PLUMBING = /^(async )?(Object\.)?(rows|first|once|inFirm|queryOutsideFirm|statementName|callerName)$/;

/** The named function that called into the database, as the stack has it. */
function callerName(): string {
	const frames = (new Error().stack ?? '').split('\n').slice(1);
	for (const frame of frames) {
		const named = /^\s+at (?:async )?(?:[\w$]+\.)?([\w$]+) (?:\[as [\w$]+\] )?\(/.exec(frame)?.[1];
		if (named && !PLUMBING.test(named) && !/^(process|new|then)/.test(named)) return named;
	}
	return 'statement';
}

/**
 * The name under which a statement is prepared: the function that runs it, and a few signs of its text to tell its statements apart.
 * PostgreSQL writes it into its log before the text (`execute readClients 3f9a21c0: select …`). Each statement is parsed and planned once
 * a connection under this name: there are a few hundred of them, and planning costs more than most of them run.
 */
export function statementName(text: string): string {
	let name = names.get(text);
	if (!name) {
		const sign = createHash('sha1').update(text).digest('hex').slice(0, 16);
		names.set(text, (name = `${callerName().slice(0, NAME_MAX - 17)} ${sign}`));
	}
	return name;
}
