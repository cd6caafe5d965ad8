/** A builder asks as someone else: for which person or role. */
export const lookAsHeader = 'x-look-as';
