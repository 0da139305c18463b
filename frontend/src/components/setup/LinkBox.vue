<script setup lang="ts">
import { computed, ref } from 'vue'
import type { LinkMade } from '@/api/types'
import { momentInFull } from '@/logic/words'

/** A link that sets a password once: shown this once, to be given to whom it is for. */
const props = defineProps<{ link: LinkMade; name: string }>()
const copied = ref(false)
const address = computed(() => `${location.origin}/join#${props.link.token}`)
const box = ref<HTMLInputElement>()
async function copy(): Promise<void> {
  box.value?.select()
  await navigator.clipboard.writeText(address.value).then(
    () => (copied.value = true),
    () => undefined, // it stays selected, to be copied by hand
  )
}
</script>

<template>
  <div class="flag link" role="status">
    <p>
      Give this link to {{ name }}: it works once, until {{ momentInFull(link.until) }}, and is
      shown here only now.
    </p>
    <p class="line">
      <input ref="box" class="box mono" readonly :value="address" aria-label="The link" />
      <button class="btn fir" @click="copy">{{ copied ? 'Copied' : 'Copy' }}</button>
    </p>
  </div>
</template>

<style scoped>
.link {
  margin: 10px 0;
}
.line {
  display: flex;
  gap: 8px;
  padding-top: 6px;
}
.box {
  flex: 1;
  min-width: 0;
}
</style>
