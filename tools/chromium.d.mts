export function chromiumFile(): string
export function withChromium(): string[]
