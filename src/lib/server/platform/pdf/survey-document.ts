import {
	PDFCheckBox,
	PDFDropdown,
	PDFName,
	PDFOptionList,
	PDFRadioGroup,
	PDFSignature,
	PDFString,
	PDFHexString,
	PDFTextField,
	type PDFDocument,
	type PDFField
} from '@cantoo/pdf-lib';
import { DomainError } from '$lib/core/errors/domain-error';
import { findPlaces, kindOfLabel, type FoundPlace } from '$lib/core/signing/find-places';
import { seenSize, toSeen, type PageShape } from '$lib/core/signing/page-space';
import { PLACES, type PlaceKind } from '$lib/core/signing/places';
import type { PrintedPage } from '$lib/core/statements/printed/page-lines';
import { shapesOf } from './page-shape';
import { readPrintedPages } from './read-words';
import { openSignable } from './signable';

/** What is to know of a PDF before places are put on it. */
export interface DocumentSurvey {
	/** as they are seen, in points */
	pages: { width: number; height: number }[];
	/** by what is written on the pages, and by its form */
	found: (FoundPlace & { choices: string[] })[];
}

/**
 * Looks through a PDF that is to be signed: the sizes of its pages, and the places that they seem to have.
 * @throws DomainError unreadable_file for what cannot be signed
 */
export const surveyDocument = async (name: string, bytes: Uint8Array): Promise<DocumentSurvey> => (await surveyPrinted(name, bytes)).survey;

/** The same, with what is printed on its pages. */
export async function surveyPrinted(name: string, bytes: Uint8Array): Promise<{ survey: DocumentSurvey; printed: PrintedPage[] }> {
	const document = await openSignable(name, bytes);
	const shapes = shapesOf(document, name);
	const ofForm = fieldsOf(document, shapes);
	const printed = await readPrintedPages(bytes.slice());
	if (!printed) throw new DomainError('unreadable_file', `${name} cannot be read. Save it again from the program that made it.`);
	const ofText = printed.pages.flatMap((page, at) => findPlaces(page, at + 1)).map((place) => ({ ...place, choices: [] as string[] }));
	// a line under a field of the form is the same place
	const apart = ofText.filter((place) => !ofForm.some((field) => overlap(field, place)));
	return { survey: { pages: shapes.map(seenSize), found: [...ofForm, ...apart] }, printed: printed.pages };
}

function overlap(a: FoundPlace, b: FoundPlace): boolean {
	return a.page === b.page && a.x < b.x + b.width && b.x < a.x + a.width && a.y < b.y + b.height && b.y < a.y + a.height;
}

function kindOf(field: PDFField, label: string): PlaceKind | null {
	if (field instanceof PDFSignature) return 'signature';
	if (field instanceof PDFTextField) {
		const kind = kindOfLabel(label);
		return kind && kind !== 'signature' ? kind : 'text';
	}
	if (field instanceof PDFCheckBox) return 'tick';
	if (field instanceof PDFDropdown || field instanceof PDFRadioGroup || field instanceof PDFOptionList) return 'choice';
	return null;
}

/** The fields of a form that nobody has filled in yet. */
function fieldsOf(document: PDFDocument, shapes: readonly PageShape[]): DocumentSurvey['found'] {
	if (!document.catalog.has(PDFName.of('AcroForm'))) return [];
	const pages = document.getPages();
	return document
		.getForm()
		.getFields()
		.flatMap((field) => {
			const told = field.acroField.dict.lookup(PDFName.of('TU'));
			const label = (told instanceof PDFString || told instanceof PDFHexString ? told.decodeText() : field.getName())
				.replace(/\s+/g, ' ')
				.trim()
				.slice(0, 80);
			const kind = kindOf(field, label);
			if (!kind || field.isReadOnly() || (field instanceof PDFTextField && field.getText())) return [];
			const choices =
				field instanceof PDFDropdown || field instanceof PDFRadioGroup || field instanceof PDFOptionList
					? field
							.getOptions()
							.slice(0, 20)
							.map((option) => option.slice(0, 80))
					: [];
			const widgets = field.acroField.getWidgets();
			// of several buttons of which one is chosen, the first stands for all
			return (field instanceof PDFRadioGroup ? widgets.slice(0, 1) : widgets).flatMap((widget) => {
				const page = pages.findIndex(
					(one) =>
						one.ref === widget.P() ||
						one.node
							.Annots()
							?.asArray()
							.some((annotation) => document.context.lookup(annotation) === widget.dict)
				);
				if (page < 0) return [];
				const { x, y, width, height } = widget.getRectangle();
				const [a, b] = [toSeen(shapes[page], { x, y }), toSeen(shapes[page], { x: x + width, y: y + height })];
				const seen = {
					x: Math.max(0, Math.min(a.x, b.x)),
					y: Math.max(0, Math.min(a.y, b.y)),
					width: Math.abs(a.x - b.x),
					height: Math.abs(a.y - b.y)
				};
				return seen.width < 4 || seen.height < 4 ? [] : [{ page: page + 1, ...seen, kind, label: PLACES[kind].asks ? label : '', choices }];
			});
		});
}
