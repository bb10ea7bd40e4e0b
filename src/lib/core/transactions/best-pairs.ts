/** One that may go with another, and how well. */
export interface Weighed {
	left: string;
	right: string;
	/** more than 0 */
	weight: number;
}

/**
 * The pairs that together weigh most, each left and each right in one of them at most (maximum-weight bipartite matching, by the Hungarian
 * method with potentials, n²m). What hangs together is settled by itself, so that many small sets stay cheap.
 * @param edges at most one for the same two; others are never paired
 */
export function bestPairs<Edge extends Weighed>(edges: readonly Edge[]): Edge[] {
	return connected(edges).flatMap((part) => (part.length === 1 ? part : heaviest(part)));
}

/** Edges by the sets that hang together. */
function connected<Edge extends Weighed>(edges: readonly Edge[]): Edge[][] {
	const above = new Map<string, string>();
	const top = (of: string): string => {
		let root = of;
		for (let up = above.get(root); up !== undefined; up = above.get(root)) root = up;
		// the way there is short the next time
		for (let at = of; at !== root;) {
			const up = above.get(at)!;
			above.set(at, root);
			at = up;
		}
		return root;
	};
	// one on the left and one on the right may have the same name
	const leftOf = (edge: Edge) => `l${edge.left}`;
	for (const edge of edges) {
		const [a, b] = [top(leftOf(edge)), top(`r${edge.right}`)];
		if (a !== b) above.set(b, a);
	}
	const parts = new Map<string, Edge[]>();
	for (const edge of edges) {
		const root = top(leftOf(edge));
		const part = parts.get(root);
		if (part) part.push(edge);
		else parts.set(root, [edge]);
	}
	return [...parts.values()];
}

/** The heaviest pairs of edges that hang together. */
function heaviest<Edge extends Weighed>(edges: readonly Edge[]): Edge[] {
	const rows = [...new Set(edges.map(({ left }) => left))];
	const columns = [...new Set(edges.map(({ right }) => right))];
	const [rowOf, columnOf] = [new Map(rows.map((id, i) => [id, i])), new Map(columns.map((id, i) => [id, i]))];
	const [n, m] = [rows.length, columns.length + rows.length];
	// behind the columns each row has one in which it stays alone, at no cost
	const cost = Array.from({ length: n }, () => new Float64Array(m));
	const edgeAt = new Map<number, Edge>();
	for (const edge of edges) {
		const [row, column] = [rowOf.get(edge.left)!, columnOf.get(edge.right)!];
		cost[row][column] = -edge.weight;
		edgeAt.set(row * m + column, edge);
	}
	// rows and columns from 1, as the method is written down; 0 is "none"
	const [u, v] = [new Float64Array(n + 1), new Float64Array(m + 1)];
	const rowIn = new Int32Array(m + 1);
	for (let row = 1; row <= n; row++) {
		const slack = new Float64Array(m + 1).fill(Infinity);
		const from = new Int32Array(m + 1);
		const seen = new Uint8Array(m + 1);
		rowIn[0] = row;
		let at = 0;
		do {
			seen[at] = 1;
			const here = rowIn[at];
			let [step, next] = [Infinity, 0];
			for (let column = 1; column <= m; column++) {
				if (seen[column]) continue;
				const reduced = cost[here - 1][column - 1] - u[here] - v[column];
				if (reduced < slack[column]) {
					slack[column] = reduced;
					from[column] = at;
				}
				if (slack[column] < step) [step, next] = [slack[column], column];
			}
			for (let column = 0; column <= m; column++) {
				if (seen[column]) {
					u[rowIn[column]] += step;
					v[column] -= step;
				} else slack[column] -= step;
			}
			at = next;
		} while (rowIn[at] !== 0);
		for (; at !== 0; at = from[at]) rowIn[at] = rowIn[from[at]];
	}
	const chosen: Edge[] = [];
	for (let column = 1; column <= columns.length; column++) {
		const edge = rowIn[column] === 0 ? undefined : edgeAt.get((rowIn[column] - 1) * m + column - 1);
		if (edge) chosen.push(edge);
	}
	return chosen;
}
