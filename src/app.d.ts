import type { Actor } from '$lib/server/actor';
import type { SignedIn } from '$lib/server/people/sessions';

declare global {
	namespace App {
		interface Error {
			message: string;
			requestId?: string;
			/** nothing answered: the line is down, or the product is */
			unreachable?: boolean;
		}
		interface Locals {
			requestId: string;
			/** who is signed in, on the side of the product the address belongs to */
			signedIn: SignedIn | null;
			/** the sessions they are signed in by: with each of them ends what goes on as long as they are signed in */
			sessions: string[];
			/** whoever acts in this request, at this moment */
			actor: Actor;
			/** in which the page is read, as it says itself: for screen readers and translators */
			language: string;
			/** address of a picture that is what the page is for: it comes before the scripts */
			comesFirst?: string;
			/** websites that may show the page in a frame */
			frameSites?: string[];
		}
	}
}
export {};
