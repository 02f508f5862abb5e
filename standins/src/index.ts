export { MailServer, type Failure, type Received } from './mail.ts'
