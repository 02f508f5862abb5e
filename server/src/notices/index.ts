/** Mail, queued and sent. */
export { type House } from './house.ts'
export { type Letter } from './letter.ts'
export { mailsOf, queueMail, retryMail } from './mail.ts'
export { type MailPlan, Post } from './post.ts'
export { mail } from './tables.ts'
