export function compileMessages(folder: string, out?: string): void;
