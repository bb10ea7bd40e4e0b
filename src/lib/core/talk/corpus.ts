/** Invented mails in three languages, for the tests: how programs quote and sign, and how they say that somebody is away. */

const QUOTED = {
	en: 'Hello Mara,\n\nwe still need the bank statement for April.\n\nOdalys Brandt\nPennywhistle Row Bookkeeping',
	fr: 'Bonjour Marguerite,\n\nil nous manque encore le relevé bancaire d’avril.\n\nOdalys Brandt\nPennywhistle Row Bookkeeping',
	de: 'Guten Tag Frau Pohl,\n\nuns fehlt noch der Kontoauszug für April.\n\nOdalys Brandt\nPennywhistle Row Bookkeeping'
} as const;
type Language = keyof typeof QUOTED;
const arrows = (language: Language) => `> ${QUOTED[language].replaceAll('\n', '\n> ')}`;
const bare = (language: Language) => QUOTED[language];

/** What a program puts below somebody's words. */
const BELOW: Record<Language, readonly string[]> = {
	en: [
		`On Mon, 4 May 2026 at 09:00, Pennywhistle Row <mail@pennywhistle.example> wrote:\n${arrows('en')}`,
		`On May 4, 2026, at 9:00 AM, Pennywhistle Row Bookkeeping\n<mail@pennywhistle.example> wrote:\n\n${arrows('en')}`,
		`________________________________\nFrom: Pennywhistle Row <mail@pennywhistle.example>\nSent: Monday, May 4, 2026 9:00 AM\nTo: Mara Whitlock <mara@gullstring.example>\nSubject: Still open\n\n${bare('en')}`,
		`From: Pennywhistle Row\nDate: Monday, 4 May 2026\nTo: mara@gullstring.example\nSubject: Still open\n\n${bare('en')}`,
		`-----Original Message-----\nFrom: Pennywhistle Row <mail@pennywhistle.example>\nSent: 04 May 2026 09:00\n\n${bare('en')}`,
		`Sent from my phone\n\n> On 4 May 2026, at 09:00, Pennywhistle Row <mail@pennywhistle.example> wrote:\n> \n${arrows('en')}`,
		`-- \nMara Whitlock\nGull & String Kites\n+1 902 555 0142`,
		''
	],
	fr: [
		`Le lun. 4 mai 2026 à 09:00, Pennywhistle Row <mail@pennywhistle.example> a écrit :\n${arrows('fr')}`,
		`Le 4 mai 2026 à 09:00, Pennywhistle Row Bookkeeping\n<mail@pennywhistle.example> a écrit :\n\n${arrows('fr')}`,
		`________________________________\nDe : Pennywhistle Row <mail@pennywhistle.example>\nEnvoyé : lundi 4 mai 2026 09:00\nÀ : Marguerite Grèbe\nObjet : Encore à faire\n\n${bare('fr')}`,
		`De : Pennywhistle Row\nDate : lundi 4 mai 2026\nÀ : marguerite@grebecottage.example\nObjet : Encore à faire\n\n${bare('fr')}`,
		`Envoyé de mon téléphone\n\n> Le 4 mai 2026 à 09:00, Pennywhistle Row <mail@pennywhistle.example> a écrit :\n> \n${arrows('fr')}`,
		`-----Message d'origine-----\nDe : Pennywhistle Row <mail@pennywhistle.example>\nEnvoyé : lundi 4 mai 2026 09:00\n\n${bare('fr')}`,
		`-- \nMarguerite Grèbe\nLes Gîtes du Grèbe`,
		''
	],
	de: [
		`Am Mo., 4. Mai 2026 um 09:00 Uhr schrieb Pennywhistle Row <mail@pennywhistle.example>:\n${arrows('de')}`,
		`Am 04.05.26 um 09:00 schrieb Pennywhistle Row Bookkeeping:\n${arrows('de')}`,
		`________________________________\nVon: Pennywhistle Row <mail@pennywhistle.example>\nGesendet: Montag, 4. Mai 2026 09:00\nAn: Ute Pohl\nBetreff: Noch offen\n\n${bare('de')}`,
		`Von: Pennywhistle Row\nDatum: Montag, 4. Mai 2026\nAn: ute@pohl.example\nBetreff: Noch offen\n\n${bare('de')}`,
		`Von meinem Telefon gesendet\n\n> Am 04.05.2026 um 09:00 schrieb Pennywhistle Row <mail@pennywhistle.example>:\n> \n${arrows('de')}`,
		`-----Ursprüngliche Nachricht-----\nVon: Pennywhistle Row <mail@pennywhistle.example>\nGesendet: Montag, 4. Mai 2026 09:00\n\n${bare('de')}`,
		`-- \nUte Pohl\nPohl Bootsbau`,
		''
	]
};

/** What people write: short, long, with dashes, dates, addresses and lists that must not be taken for a quote. */
const WRITTEN: Record<Language, readonly string[]> = {
	en: [
		'It is attached. Is that all?',
		'Hello Odalys,\n\nthe bank only sends it on the 10th. I will upload it then.\n\nMara',
		'Two things:\n- the lease is with my brother\n- the till report follows tonight',
		'From what I see, the statement is already with you.\nSent it on Friday with the receipts.',
		'On Thursday I am with the landlord, and he wrote:\n“the lease runs until 2028”. Is that enough?',
		'Yes.',
		'Please call me: +1 902 555 0142.\n\nI would rather not write about it.',
		'The amount is 1,240.50 -- not 1,420.50 -- as I said.\n\nThanks!'
	],
	fr: [
		'Le relevé est joint. C’est tout ?',
		'Bonjour Odalys,\n\nla banque ne l’envoie que le 10. Je le déposerai alors.\n\nMarguerite',
		'Deux choses :\n- le bail est chez mon frère\n- le rapport de caisse suit ce soir',
		'Je ne comprends pas : de quel compte s’agit-il ?\nNous en avons deux.',
		'Oui.',
		'Appelez-moi, s’il vous plaît : 05 55 00 01 42.',
		'Le propriétaire m’a écrit hier.\n\nIl dit : « le bail court jusqu’en 2028 ». Cela suffit ?',
		'Merci de patienter jusqu’à lundi.'
	],
	de: [
		'Ist angehängt. War das alles?',
		'Guten Tag Frau Brandt,\n\ndie Bank schickt ihn erst am 10. Ich lade ihn dann hoch.\n\nUte Pohl',
		'Zwei Dinge:\n- der Mietvertrag liegt bei meinem Bruder\n- der Kassenbericht kommt heute Abend',
		'Von welchem Konto sprechen Sie?\nWir haben zwei.',
		'Ja.',
		'Bitte rufen Sie an: 030 5550142.',
		'Der Vermieter schrieb gestern, der Vertrag laufe bis 2028. Reicht das?',
		'Ich brauche noch bis Montag – die Bank ist zu.'
	]
};

export interface AnswerMail {
	language: Language;
	text: string;
	words: string;
}
/** Answers of people: in each language every program with one of the texts, and the last twice. */
export const ANSWERS: readonly AnswerMail[] = (['en', 'fr', 'de'] as const).flatMap((language) =>
	WRITTEN[language].flatMap((words, n) => {
		const text = (below: string) => (below === '' ? words : `${words}\n\n${below}`);
		const one = { language, words, text: text(BELOW[language][n]) };
		return n < 5 ? [one, { ...one, text: text(BELOW[language][(n + 3) % 8]).replaceAll('\n', '\r\n') }] : [one];
	})
);

export interface AwayMail {
	subject: string;
	text: string;
	/** null: it does not say so plainly; undefined: nobody is away */
	backOn: string | null | undefined;
}
/** What programs answered on Monday, 4 May 2026. */
export const AUTOMATIC: readonly AwayMail[] = [
	{ subject: 'Automatic reply: Still open', text: 'I am out of the office until 15 May 2026 with no access to mail.', backOn: '2026-05-16' },
	{ subject: 'Out of office', text: 'Thank you for your message. I am away and will be back on Monday, 18 May.', backOn: '2026-05-18' },
	{
		subject: 'Automatic reply: Still open',
		text: 'I’m on annual leave from 4 May to 12 May and return to the office on May 13th.',
		backOn: '2026-05-13'
	},
	{ subject: 'Auto-reply', text: 'On vacation! Back on Thursday.', backOn: '2026-05-07' },
	{ subject: 'Automatic reply', text: 'I am travelling this week and answer slowly.', backOn: null },
	{ subject: 'Automatic reply: Still open', text: 'I am out of office until 05/06/2026.', backOn: null },
	{ subject: 'We have your message', text: 'Thank you. Our team will answer within two days. Ticket 4711.', backOn: undefined },
	{ subject: 'Out of office', text: 'I was away until 1 May 2026.', backOn: null },
	{ subject: 'Réponse automatique : Encore à faire', text: 'Je suis absente jusqu’au 15 mai 2026 inclus.', backOn: '2026-05-16' },
	{ subject: 'Absence du bureau', text: 'Bonjour, je suis en congé et serai de retour le lundi 18 mai.', backOn: '2026-05-18' },
	{ subject: 'Réponse automatique', text: 'En vacances du 4 mai au 12 mai 2026.', backOn: '2026-05-13' },
	{ subject: 'Réponse automatique', text: 'Je suis en déplacement et lis peu mes messages.', backOn: null },
	{ subject: 'Accusé de réception', text: 'Votre message nous est bien parvenu. Nous répondons sous 48 heures.', backOn: undefined },
	{ subject: 'Automatische Antwort: Noch offen', text: 'Ich bin bis zum 15. Mai 2026 nicht im Büro.', backOn: '2026-05-16' },
	{ subject: 'Abwesenheitsnotiz', text: 'Ich bin im Urlaub und ab dem 18. Mai wieder erreichbar.', backOn: '2026-05-18' },
	{ subject: 'Abwesend', text: 'Vom 4. Mai bis 12. Mai 2026 bin ich verreist.', backOn: '2026-05-13' },
	{ subject: 'Automatische Antwort', text: 'Ich bin zurzeit auf Dienstreise und antworte später.', backOn: null },
	{
		subject: 'Out of the office',
		text: 'Away from Tuesday 5 May. From 11 May I am available again; Ferrin Vale helps until then.',
		backOn: '2026-05-11'
	},
	{ subject: 'Automatic reply', text: 'I am away and back on 18 May, or on 20 May at the latest.', backOn: null },
	{ subject: 'Automatic reply', text: 'Out of the office until 2027-12-31.', backOn: null },
	{ subject: 'Réponse automatique', text: 'Absente. À partir du 18 mai je suis de nouveau joignable.', backOn: '2026-05-18' },
	{ subject: 'Ihre Nachricht', text: 'Vielen Dank, wir haben Ihre Nachricht erhalten.', backOn: undefined }
];
