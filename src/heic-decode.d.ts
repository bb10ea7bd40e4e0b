/** libheif as WebAssembly; the package brings no types of its own. */
declare module 'heic-decode' {
	interface DecodedImage {
		width: number;
		height: number;
		/** four bytes each: red, green, blue, opaqueness */
		data: Uint8ClampedArray;
	}
	interface ImageInFile {
		width: number;
		height: number;
		decode(): Promise<DecodedImage>;
	}
	const decode: {
		all(input: { buffer: Uint8Array }): Promise<ImageInFile[] & { dispose(): void }>;
	};
	export default decode;
}
