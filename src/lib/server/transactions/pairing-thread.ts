import { papersOfLines, type LineWithoutPaper, type PairOfLine, type PaperHere } from '$lib/core/transactions/papers-of-lines';
import { answerOf, type ThreadAnswer } from '../platform/threads/answers';

export interface PairingTask {
	lines: readonly LineWithoutPaper[];
	papers: readonly PaperHere[];
	refused: readonly { lineId: string; paperId: string }[];
}

/** What runs in a thread of its own. */
export default function run({ lines, papers, refused }: PairingTask): Promise<ThreadAnswer<PairOfLine[]>> {
	return answerOf(async () => papersOfLines(lines, papers, refused));
}
