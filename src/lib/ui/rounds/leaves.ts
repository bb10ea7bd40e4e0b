import type { Component } from 'svelte';
import type { Leaf } from '$lib/server/rounds/sections';
import ArrivalLeaf from './ArrivalLeaf.svelte';
import CallLeaf from './CallLeaf.svelte';
import DraftLeaf from './DraftLeaf.svelte';
import InvitationLeaf from './InvitationLeaf.svelte';
import type { LeafProps } from './leaf-props';
import MessageLeaf from './MessageLeaf.svelte';
import NamedLeaf from './NamedLeaf.svelte';
import NoAddressLeaf from './NoAddressLeaf.svelte';
import PublicAnswerLeaf from './PublicAnswerLeaf.svelte';
import RanOutLeaf from './RanOutLeaf.svelte';
import StoppedLeaf from './StoppedLeaf.svelte';
import TaskLeaf from './TaskLeaf.svelte';
import TextLeaf from './TextLeaf.svelte';
import WaitingMailLeaf from './WaitingMailLeaf.svelte';
import WordsLeaf from './WordsLeaf.svelte';

type OwnKind = Exclude<Leaf['kind'], 'item'>;

/** What is open beside the rows of Rounds, by its kind. What is about an item has the leaf that items have everywhere. */
export const LEAVES: { [Kind in OwnKind]: Component<LeafProps<Kind>> } = {
	arrival: ArrivalLeaf,
	call: CallLeaf,
	ran_out: RanOutLeaf,
	draft: DraftLeaf,
	stopped: StoppedLeaf,
	message: MessageLeaf,
	text: TextLeaf,
	words: WordsLeaf,
	named: NamedLeaf,
	waiting_mail: WaitingMailLeaf,
	no_address: NoAddressLeaf,
	public_answer: PublicAnswerLeaf,
	task: TaskLeaf,
	invitation: InvitationLeaf
};

/** The leaf of a row with what it shows: one pair, so that both are of the same kind. */
export const leafOf = (leaf: Extract<Leaf, { kind: OwnKind }>): Component<LeafProps<OwnKind>> => LEAVES[leaf.kind] as Component<LeafProps<OwnKind>>;
