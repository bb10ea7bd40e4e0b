declare module 'email-reply-parser' {
	interface Fragment {
		isHidden(): boolean;
		isSignature(): boolean;
		isQuoted(): boolean;
		getContent(): string;
	}
	export default class EmailReplyParser {
		read(text: string): { getFragments(): Fragment[] };
	}
}
