import { phoneInWords } from '$lib/core/people/phone';
import { z } from 'zod';
import { localDate } from '$lib/core/calendar/firm-calendar';
import { holidaySchema } from '$lib/core/calendar/holidays';
import { chasePaceForm, chasePlanChoices } from '$lib/core/chasing/chase-plan';
import { brandSchema, firmDetailsSchema, firmHoursSchema } from '$lib/core/firms/firm-forms';
import { serviceSchema, chosenPlanSchema, typedFeeSchema } from '$lib/core/clients/record-forms';
import { DomainError } from '$lib/core/errors/domain-error';
import { readFirmAreasForm } from '$lib/core/firms/portal-areas';
import { may } from '$lib/core/people/roles';
import { readStaff } from '$lib/server/clients/read-clients';
import { deskForm, deskRequest } from '$lib/web/desk-request';
import { logoPath, picturePath } from '$lib/server/firms/firm';
import { readBrands } from '$lib/server/firms/brands';
import { changeAreas, readFirmAreas } from '$lib/server/firms/portal-areas';
import { changePicture, removePicture } from '$lib/server/firms/pictures';
import {
	addHolidays,
	changeBrand,
	changePace,
	changeFirmDetails,
	changeFirmHours,
	importHolidays,
	readHolidaysFrom,
	removeHoliday
} from '$lib/server/firm-settings/change-firm';
import { addService, endService, planService, priceService, readServiceUse } from '$lib/server/firms/services';
import { idParam, inForm } from '$lib/web/form-errors';
import { currencyOf } from '$lib/core/firms/currency';
import { readWhoseNeverMeet } from '$lib/server/chasing/their-times';
import { countryInWords, currencyInWords, REGION_CHOICES } from '$lib/words/regions';

export const load = async (event) => {
	event.depends('desk:live');
	const desk = await deskRequest(event);
	return desk.read(async (tx, firm) => ({
		details: {
			name: firm.name,
			address: firm.address,
			slug: firm.slug,
			country: firm.country,
			countryName: countryInWords(firm.country),
			color: firm.color,
			brandColor: firm.brandColor,
			welcome: firm.welcome,
			logo: logoPath(firm),
			welcomePicture: picturePath(firm, firm.welcomePicture),
			welcomeVideo: firm.welcomeVideo,
			mailFrom: firm.mailFrom,
			phone: firm.phone ? phoneInWords(firm.phone, firm.country) : '',
			clientLanguage: firm.clientLanguage,
			currency: firm.currency,
			countryCurrency: currencyOf(firm.country),
			currencyName: currencyInWords(firm.currency),
			calendar: firm.calendar,
			plans: chasePlanChoices(firm),
			pace: firm.pace,
			invitationSteps: firm.invitationSteps
		},
		neverMeet: await readWhoseNeverMeet(tx, desk.actor, firm),
		holidays: await readHolidaysFrom(tx, localDate(desk.actor.now, firm.calendar)),
		staff: await readStaff(tx),
		services: await readServiceUse(tx),
		areas: await readFirmAreas(tx),
		brands: (await readBrands(tx)).map(({ id, name, clients }) => ({ id, name, clients })),
		maySetUp: may(desk.actor.role, 'set_up_firm'),
		mayHandOn: may(desk.actor.role, 'hand_on_accounts'),
		choices: REGION_CHOICES,
		origin: desk.context.settings.ORIGIN
	}));
};

const pictureSchema = z.object({
	what: z.enum(['logo', 'welcome']),
	brandId: z.union([z.literal('').transform(() => null), z.uuid()]).nullable()
});

export const actions = {
	changeDetails: (event) => deskForm(event, (tx, desk, form) => changeFirmDetails(tx, desk.actor, firmDetailsSchema.parse(Object.fromEntries(form)))),
	changeHours: (event) =>
		deskForm(event, (tx, desk, form) =>
			changeFirmHours(tx, desk.actor, firmHoursSchema.parse({ ...Object.fromEntries(form), businessDays: form.getAll('businessDays') }))
		),
	addHoliday: (event) => deskForm(event, (tx, desk, form) => addHolidays(tx, desk.actor, [holidaySchema.parse(Object.fromEntries(form))])),
	removeHoliday: (event) => deskForm(event, (tx, desk, form) => removeHoliday(tx, desk.actor, z.iso.date().parse(form.get('day')))),
	importHolidays: async (event) => {
		const form = await event.request.formData();
		return inForm(form, async () => {
			const desk = await deskRequest(event);
			const file = form.get('calendar');
			if (!(file instanceof File) || file.size === 0) throw new DomainError('invalid', 'Choose a calendar file first.');
			await importHolidays(desk.context, desk.firmId, desk.actor, file);
			return { done: true };
		});
	},
	addPicture: (event) =>
		deskForm(event, async (tx, desk, form) => {
			const file = form.get('picture');
			if (!(file instanceof File)) throw new DomainError('invalid', 'No picture arrived. Please choose it again.');
			await changePicture(tx, desk.actor, pictureSchema.parse(Object.fromEntries(form)), Buffer.from(await file.arrayBuffer()));
		}),
	removePicture: (event) => deskForm(event, (tx, desk, form) => removePicture(tx, desk.actor, pictureSchema.parse(Object.fromEntries(form)))),
	changePace: (event) =>
		deskForm(event, (tx, desk, form) =>
			changePace(
				tx,
				desk.actor,
				chasePaceForm.parse({
					gapDays: form.get('gapDays') ?? undefined,
					perWeek: form.get('perWeek') ?? undefined,
					invitationSteps: form.getAll('invitation').filter(Boolean)
				})
			)
		),
	changeAreas: (event) => deskForm(event, (tx, desk, form) => changeAreas(tx, desk.actor, readFirmAreasForm(form))),
	changeBrand: (event) => deskForm(event, (tx, desk, form) => changeBrand(tx, desk.actor, brandSchema.parse(Object.fromEntries(form)))),
	addService: (event) => deskForm(event, (tx, desk, form) => addService(tx, desk.actor, serviceSchema.parse(Object.fromEntries(form)).name)),
	priceService: (event) =>
		deskForm(event, (tx, desk, form) =>
			priceService(tx, desk.actor, { serviceId: idParam(String(form.get('serviceId') ?? '')), ...typedFeeSchema.parse(Object.fromEntries(form)) })
		),
	planService: (event) =>
		deskForm(event, (tx, desk, form) =>
			planService(tx, desk.actor, { serviceId: idParam(String(form.get('serviceId') ?? '')), ...chosenPlanSchema.parse(Object.fromEntries(form)) })
		),
	endService: (event) => deskForm(event, (tx, desk, form) => endService(tx, desk.actor, idParam(String(form.get('serviceId') ?? ''))))
};
