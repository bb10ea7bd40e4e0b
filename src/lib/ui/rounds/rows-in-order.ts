import { getContext, setContext } from 'svelte';

const KEY = Symbol('the rows of Rounds');

/** The rows of Rounds as they stand on the sheet: the order holds while somebody works through it. */
export const setRowsInOrder = (rows: () => readonly { key: string }[]): void => void setContext(KEY, rows);
/** @returns the rows as they stand beside the leaf that asks */
export const getRowsInOrder = (): (() => readonly { key: string }[]) => getContext(KEY);
