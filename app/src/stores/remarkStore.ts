import { defineStore } from 'pinia'
import { ref } from 'vue'

/** What is said once above the views, such as that a copy was made; empty when there is nothing to say. */
export const useRemarkStore = defineStore('remark', () => ({ words: ref('') }))
