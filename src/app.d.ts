declare global {
	namespace App {
		interface Error {
			message: string;
			/** The way out, where there is one. */
			advice?: string;
		}
	}
}

export {};
