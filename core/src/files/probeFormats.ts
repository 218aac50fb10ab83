/** How files of measurements begin, by which they are known wherever they are dropped. */
export const HOW_TO_ASK_FORMAT = 'sand-clock-how-to-ask'
export const PROBED_HEADER = 'id,class,arrival,start,first_token,end,outcome,replica,sent,status,input,output,gaps,at_once,why'
/** As it was before reasons were written. */
export const PROBED_HEADER_AT_FIRST = PROBED_HEADER.replace(',why', '')
