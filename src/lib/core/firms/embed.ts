/** Where videos may be shown from, and how an address people copy there becomes one that can be embedded. */
const PLAYERS: readonly { host: RegExp; id: (url: URL) => string | null; player: (id: string) => string }[] = [
	{
		host: /^(www\.|m\.)?youtube\.com$/,
		id: (url) => url.searchParams.get('v') ?? /^\/(?:embed|shorts)\/([\w-]+)/.exec(url.pathname)?.[1] ?? null,
		player: (id) => `https://www.youtube-nocookie.com/embed/${id}`
	},
	{ host: /^youtu\.be$/, id: (url) => url.pathname.slice(1), player: (id) => `https://www.youtube-nocookie.com/embed/${id}` },
	{
		host: /^(www\.|player\.)?vimeo\.com$/,
		id: (url) => /^\/(?:video\/)?(\d+)/.exec(url.pathname)?.[1] ?? null,
		player: (id) => `https://player.vimeo.com/video/${id}`
	}
];

/** The address under which a video is shown within a page, or null if it is only linked to. */
export function embedOf(address: string): string | null {
	let url: URL;
	try {
		url = new URL(address);
	} catch {
		return null;
	}
	if (url.protocol !== 'https:') return null;
	const player = PLAYERS.find(({ host }) => host.test(url.hostname));
	const id = player?.id(url);
	return player && id && /^[\w-]{1,40}$/.test(id) ? player.player(id) : null;
}
