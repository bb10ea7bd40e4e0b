/** A photograph of a page, made smaller than a camera makes it. */
export interface PhotoPage {
	key: string;
	picture: Blob;
	/** address under which this browser shows it */
	url: string;
	/** how far it is turned to the right, in degrees */
	turn: number;
}

/** Longer side of a photographed page in pixels: about 200 dots an inch of a sheet. */
const PIXELS = 2200;
const QUALITY = 0.82;
/** Longer side of a page in points: A4. */
const PAGE_LENGTH = 842;

/** A photograph as a page, upright as the camera was held. @throws if this browser cannot open it */
export async function photoPage(file: Blob): Promise<PhotoPage> {
	const photo = await createImageBitmap(file, { imageOrientation: 'from-image' });
	const smaller = Math.min(1, PIXELS / Math.max(photo.width, photo.height));
	const canvas = document.createElement('canvas');
	[canvas.width, canvas.height] = [Math.max(1, Math.round(photo.width * smaller)), Math.max(1, Math.round(photo.height * smaller))];
	const drawing = canvas.getContext('2d')!;
	drawing.fillStyle = '#fff';
	drawing.fillRect(0, 0, canvas.width, canvas.height);
	drawing.drawImage(photo, 0, 0, canvas.width, canvas.height);
	photo.close();
	const picture = await new Promise<Blob | null>((done) => canvas.toBlob(done, 'image/jpeg', QUALITY));
	if (!picture) throw new Error('this picture is too large for this device');
	return { key: crypto.randomUUID(), picture, url: URL.createObjectURL(picture), turn: 0 };
}

/** One PDF of photographed pages, in their order. What writes it is fetched once it is needed. */
export async function pdfOfPhotos(pages: readonly PhotoPage[], name: string): Promise<File> {
	const { degrees, PDFDocument } = await import('@cantoo/pdf-lib');
	const pdf = await PDFDocument.create();
	pdf.setTitle(name);
	for (const { picture, turn } of pages) {
		const photo = await pdf.embedJpg(await picture.arrayBuffer());
		const points = PAGE_LENGTH / Math.max(photo.width, photo.height);
		const page = pdf.addPage([photo.width * points, photo.height * points]);
		page.drawImage(photo, { x: 0, y: 0, width: page.getWidth(), height: page.getHeight() });
		page.setRotation(degrees(turn));
	}
	return new File([(await pdf.save()) as Uint8Array<ArrayBuffer>], `${name}.pdf`, { type: 'application/pdf' });
}
