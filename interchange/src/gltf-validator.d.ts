declare module 'gltf-validator' {
	interface Report {
		issues: { numErrors: number; numWarnings: number; messages: { code: string; message: string; pointer: string }[] };
	}
	const validator: {
		validateBytes: (bytes: Uint8Array) => Promise<Report>;
		validateString: (json: string) => Promise<Report>;
	};
	export default validator;
}
