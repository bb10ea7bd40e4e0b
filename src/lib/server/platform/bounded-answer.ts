/**
 * The body of an answer from another service.
 * @param most bytes; nothing beyond them is read
 * @throws Error if it is longer
 */
export async function boundedBytes(response: Response, most: number): Promise<Buffer> {
	const chunks: Uint8Array[] = [];
	let length = 0;
	for await (const chunk of (response.body ?? []) as unknown as AsyncIterable<Uint8Array>) {
		length += chunk.length;
		if (length > most) throw new Error(`the answer is longer than ${most} bytes`);
		chunks.push(chunk);
	}
	return Buffer.concat(chunks);
}
