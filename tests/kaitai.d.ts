// The compiler of Kaitai Struct has no types of its own.
declare module 'kaitai-struct-compiler' {
	const compiler: { compile(language: string, description: object): Promise<Record<string, string>> };
	export default compiler;
}
