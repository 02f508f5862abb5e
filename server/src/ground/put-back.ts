/** The kind of event that says that a backup was put in place. It is kept for good. */
export const PUT_BACK = 'put_back'
