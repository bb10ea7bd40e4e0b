/**
 * Keeps the order somebody is working through. What is dealt with goes, and what is left stays where it stood, although its own
 * place would be another one by now: the rows of a client stand where their oldest is due, and that may be the one just dealt with.
 * What is new comes after the row it follows in the list as it was read.
 * @param rows the list as it was read
 * @param held the keys in the order in which they stood before
 */
export function holdOrder<R extends { key: string }>(rows: readonly R[], held: readonly string[]): R[] {
	const here = new Map(rows.map((row) => [row.key, row]));
	const order = held.filter((key) => here.has(key));
	const known = new Set(order);
	/** what is new, by the known row it follows; the empty key stands for the beginning */
	const after = new Map<string, string[]>();
	let follows = '';
	for (const { key } of rows)
		if (known.has(key)) follows = key;
		else after.set(follows, [...(after.get(follows) ?? []), key]);
	return ['', ...order].flatMap((key) => [...(key ? [key] : []), ...(after.get(key) ?? [])]).map((key) => here.get(key)!);
}
