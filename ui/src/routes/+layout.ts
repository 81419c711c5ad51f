export const ssr = false
