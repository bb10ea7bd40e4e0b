const ENTITIES: Record<string, string> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' };

/**
 * A button for a firm's own website that leads to its clients' sign-in: one piece of HTML without script or pictures,
 * which goes on working when the portal's address changes.
 * @param signIn address of the sign-in page
 * @param color the firm's colour, in a shade on which white can be read
 */
export function websiteButton(firmName: string, signIn: string, color: string): string {
	const escape = (text: string) => text.replace(/[&<>"]/g, (sign) => ENTITIES[sign]);
	return `<a href="${escape(signIn)}" style="display:inline-block;padding:12px 22px;border-radius:6px;background:${escape(color)};color:#ffffff;font:600 16px sans-serif;text-decoration:none">Sign in to ${escape(firmName)}</a>`;
}
