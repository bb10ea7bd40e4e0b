/** The parts of a message in the firm's brand. Everything is plain text; escaping happens here. */
export interface MailParts {
	firmName: string;
	firmAddress: string;
	color: string;
	/** address of the firm's logo */
	logoUrl: string | null;
	paragraphs: string[];
	/** what it names, under one or several headings; each line leads to its page */
	lists?: { heading: string; lines: { text: string; url?: string }[] }[];
	/** the first words that a list of messages shows beside the subject */
	preheader?: string;
	act?: { words: string; url: string; help: string };
	note?: string;
	/** a page that says more */
	more?: { words: string; url: string };
	signature: string;
	footer: string[];
	stop?: { words: string; link: string; url: string };
	locale: string;
}

function escape(text: string): string {
	return text.replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('>', '&gt;').replaceAll('"', '&quot;').replaceAll('\n', '<br>');
}

/** The message as plain text, complete in itself. */
export function plainPartOfMail(mail: MailParts): string {
	const parts = [...mail.paragraphs];
	for (const list of mail.lists ?? []) parts.push(`${list.heading}:\n` + list.lines.map((l) => `- ${l.text}`).join('\n'));
	if (mail.act) parts.push(`${mail.act.words}:\n${mail.act.url}`);
	if (mail.note) parts.push(mail.note);
	if (mail.more) parts.push(`${mail.more.words}: ${mail.more.url}`);
	parts.push(mail.signature, ['--', ...mail.footer].join('\n'));
	if (mail.stop) parts.push(mail.stop.words);
	return parts.join('\n\n') + '\n';
}

/** The message as HTML with style attributes only, legible without pictures and in one column. */
export function mailHtml(mail: MailParts): string {
	const serif = "font-family:Georgia,'Source Serif 4',serif";
	const sans = 'font-family:Verdana,Arial,sans-serif';
	const p = (text: string, extra = '') => `<p style="margin:0 0 16px;${extra}">${escape(text)}</p>`;
	const line = (l: { text: string; url?: string }) =>
		l.url ? `<a href="${escape(l.url)}" style="color:#1d2530">${escape(l.text)}</a>` : escape(l.text);
	const list = (mail.lists ?? [])
		.map(
			({ heading, lines }) =>
				`<p style="margin:0 0 6px;font-weight:bold">${escape(heading)}</p><ul style="margin:0 0 20px;padding-left:20px">${lines
					.map((l) => `<li style="margin:0 0 6px">${line(l)}</li>`)
					.join('')}</ul>`
		)
		.join('');
	// followed by blanks, so that nothing else is drawn up beside it
	const preheader = mail.preheader
		? `<div style="display:none;max-height:0;overflow:hidden">${escape(mail.preheader)}${'&#8203;&#160;'.repeat(60)}</div>`
		: '';
	const act = mail.act
		? `<p style="margin:24px 0"><a href="${escape(mail.act.url)}" style="display:inline-block;background:${mail.color};color:#ffffff;text-decoration:none;padding:14px 26px;border-radius:6px;font-weight:bold">${escape(mail.act.words)}</a></p><p style="margin:0 0 16px;font-size:12px;color:#4d5866;word-break:break-all">${escape(mail.act.help)}</p>`
		: '';
	const logo = mail.logoUrl
		? `<img src="${escape(mail.logoUrl)}" alt="" height="36" style="height:36px;max-width:140px;object-fit:contain;background:#ffffff;border-radius:4px;padding:4px;vertical-align:middle;margin-right:12px">`
		: '';
	const more = mail.more
		? `<p style="margin:0 0 16px"><a href="${escape(mail.more.url)}" style="color:#1d2530">${escape(mail.more.words)}</a></p>`
		: '';
	const stop = mail.stop
		? `<p style="margin:8px 0 0"><a href="${escape(mail.stop.url)}" style="color:#4d5866">${escape(mail.stop.link)}</a></p>`
		: '';
	return `<!doctype html><html lang="${escape(mail.locale)}"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width"><meta name="color-scheme" content="light"><meta name="supported-color-schemes" content="light"><title>${escape(mail.firmName)}</title></head><body style="margin:0;background:#f3efe5;${sans};font-size:15px;line-height:1.55;color:#1d2530">${preheader}<div style="max-width:560px;margin:0 auto;background:#fffdf7"><div style="background:${mail.color};color:#ffffff;padding:18px 28px;${serif};font-size:20px;font-weight:bold">${logo}${escape(mail.firmName)}</div><div style="padding:28px">${mail.paragraphs.map((t) => p(t)).join('')}${list}${act}${mail.note ? p(mail.note, 'color:#4d5866') : ''}${more}${p(mail.signature)}</div><div style="padding:16px 28px;border-top:1px solid #e7dfcd;font-size:12px;color:#4d5866">${mail.footer.map(escape).join('<br>')}${stop}</div></div></body></html>`;
}
