import { DomainError } from '../../errors/domain-error';
import type { FileRow } from '../../tables/read-rows';
import type { ImportColumn } from './columns';

/** Most rows of one list. */
export const IMPORT_ROWS_MAX = 20_000;

export interface ReadFile {
	/** "commas, UTF-8" */
	format: string;
	/** the line that holds the headings; what stands above it is no client. Null where there are none */
	headingLine: number | null;
	header: string[];
	columns: (ImportColumn | null)[];
	/** every row that is not empty, with the headings and what stands above them */
	rows: FileRow[];
}

/** @throws DomainError too_many */
export function requireFewEnough(rows: number): void {
	if (rows > IMPORT_ROWS_MAX)
		throw new DomainError(
			'too_many',
			`This list has more than ${IMPORT_ROWS_MAX.toLocaleString('en')} rows. Nothing was read; split it and import the parts.`
		);
}
