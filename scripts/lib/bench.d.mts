export function sized<T>(whole: T, least: T): T;
