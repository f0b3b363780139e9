export const PARTS: Record<string, { mutate: string[]; tests: string[] }>;
export const PART: string;
