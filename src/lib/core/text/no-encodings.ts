// What stands in for the tables of encodings in the browser, where texts come decoded and nothing but UTF-8 is known.
const unknown = (): never => {
	throw new Error('encodings other than UTF-8 are known on the server only');
};

export default { encodingExists: (): boolean => false, decode: unknown, encode: unknown };
