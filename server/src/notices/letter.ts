/** A letter as it is queued. */
export interface Letter {
  readonly to: string
  readonly subject: string
  readonly text: string
  readonly attachments: readonly { readonly filename: string; readonly type: string; readonly base64: string }[]
  readonly restockId: number | null
}
