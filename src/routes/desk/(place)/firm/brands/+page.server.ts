import { passingShade } from '$lib/core/firms/brand-color';
import { furtherBrandSchema } from '$lib/core/firms/firm-forms';
import { may } from '$lib/core/people/roles';
import { deskForm, deskRequest } from '$lib/web/desk-request';
import { endBrand, readBrands, writeBrand } from '$lib/server/firms/brands';
import { picturePath } from '$lib/server/firms/firm';
import { idParam } from '$lib/web/form-errors';

export const load = async (event) => {
	event.depends('desk:live');
	const desk = await deskRequest(event);
	return desk.read(async (tx, firm) => ({
		brands: (await readBrands(tx)).map((brand) => ({
			...brand,
			shade: passingShade(brand.color),
			logo: picturePath(firm, brand.logoVersion),
			picture: picturePath(firm, brand.welcomePicture)
		})),
		address: firm.address,
		own: { name: firm.name, color: firm.brandColor },
		maySetUp: may(desk.actor.role, 'set_up_firm')
	}));
};

const brandId = (form: FormData) => (form.get('brandId') ? idParam(String(form.get('brandId'))) : null);

export const actions = {
	write: (event) =>
		deskForm(event, (tx, desk, form) => writeBrand(tx, desk.actor, brandId(form), furtherBrandSchema.parse(Object.fromEntries(form)))),
	end: (event) => deskForm(event, (tx, desk, form) => endBrand(tx, desk.actor, idParam(String(form.get('brandId') ?? ''))))
};
