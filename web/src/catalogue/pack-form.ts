/** A pack of an item as it is being written: its codes stand in one field. */
export interface PackForm {
  name: string
  size: string
  codes: string
  buying: boolean
  issuing: boolean
  counting: boolean
}
