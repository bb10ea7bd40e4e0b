import { z } from 'zod';
import { FEE_RHYTHMS } from '../letters/fees';
import { phoneField } from '../people/phone';
import { chasePlanKeySchema } from '../chasing/chase-plan';
import { emailField, longText, oneLine, optionalEmailField, optionalLine } from '../people/plain-fields';
import { languageField } from '../people/language-field';
import { CHANNELS } from '../messages/ways';
import { CLIENT_KINDS } from './client-form';
import { CLIENT_MOVES } from './client-states';

const planField = z.union([z.literal('').transform(() => null), chasePlanKeySchema]).optional();

/** What the firm keeps about a contact. */
export const contactSchema = (country: string) =>
	z.object({
		name: oneLine('the contact’s name', 120),
		email: optionalEmailField,
		phone: phoneField(country),
		role: optionalLine('the role', 80),
		/** how they want to be written to */
		channels: z.enum(CHANNELS).catch('email'),
		/** in which they read; without one, as before, or as the firm's clients do */
		locale: languageField.optional().catch(undefined),
		/** by which plan they are chased; null as the client or the firm has it, left out as it was */
		chasePlan: planField
	});
/** Somebody who belongs to no client, or not yet. */
export const personSchema = (country: string) => contactSchema(country).pick({ name: true, email: true, phone: true });
/** Somebody outside a client who signs for it: what their link needs. */
export const outsideSignerSchema = (country: string) =>
	z.object({
		name: oneLine('their name', 120),
		email: emailField,
		phone: phoneField(country),
		locale: languageField.optional().catch(undefined)
	});
export type ContactForm = z.output<ReturnType<typeof contactSchema>>;

/** Name, kind and who looks after a client. */
export const clientBasicsSchema = z.object({
	name: oneLine('the client’s name', 160),
	kind: z.enum(CLIENT_KINDS, 'Choose what kind of client this is.'),
	responsibleId: z.uuid('Choose who is responsible.'),
	/** by which plan they are chased; null as the firm has it, left out as it was */
	chasePlan: planField
});

export const noteSchema = z.object({ words: longText('the note', 4000) });

/** A fee as it is typed. */
export const typedFeeSchema = z.object({ fee: z.string().max(30), every: z.enum(FEE_RHYTHMS) });

export const engagementSchema = z.object({
	name: oneLine('a name for the engagement', 120),
	beganOn: z.iso.date('Choose the day it begins.'),
	services: z.array(z.uuid()).max(60),
	/** what was agreed for each service, as it was typed */
	fees: z.record(z.uuid(), typedFeeSchema).optional()
});

/** Why a client is locked, ended or comes back: read later by somebody who was not there. */
export const clientMoveSchema = z.object({ move: z.enum(CLIENT_MOVES), reason: longText('the reason', 500) });
export const endReasonSchema = z.object({ reason: longText('the reason', 500) });

export const serviceSchema = z.object({ name: oneLine('the name of the service', 80) });
/** By which plan what is asked for a service, or a questionnaire, is chased; null as it would be otherwise. */
export const chosenPlanSchema = z.object({ chasePlan: planField.transform((key) => key ?? null) });
