<script setup lang="ts">
import { computed } from 'vue'
import CopyLine from './CopyLine.vue'
import MailLink from './MailLink.vue'
import type { LinkMade } from '@/api/types'
import { momentInFull } from '@/logic/words'

/** A link that sets a password once: shown this once, to be given to whom it is for. */
const props = defineProps<{ link: LinkMade; name: string }>()
const address = computed(() => `${location.origin}/join#${props.link.token}`)
</script>

<template>
  <div class="flag given" role="status">
    <p>
      Give this link to {{ name }}: it works once, until {{ momentInFull(link.until) }}, and is
      shown here only now.
    </p>
    <CopyLine :text="address" label="The link" />
    <MailLink v-if="link.account" :account="link.account" :name="name" />
  </div>
</template>

<style scoped>
.given {
  margin: 10px 0;
}
</style>
