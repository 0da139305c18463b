<script setup lang="ts">
import type { LetterOut, Roster } from '@/api/types'
import { count, counted } from '@/logic/words'

/** What a few of them would get, and who would get nothing. */
const props = defineProps<{ looked: LetterOut; roster: Roster }>()
const title = (name: string) => props.roster.fields.find((one) => one.name === name)?.title ?? name
const some = (names: string[], all: number) => names.join(' · ') + (all > names.length ? ' …' : '')
</script>

<template>
  <ul class="said">
    <li v-if="looked.mails || !looked.papers">
      <b>{{ counted(looked.mails, 'mail') }}</b> would go
    </li>
    <li v-if="looked.papers">
      <b>{{ counted(looked.papers, 'letter') }}</b> on paper
    </li>
    <li v-if="looked.ended">
      <b>{{ count(looked.ended) }}</b> of them to people who have ended
    </li>
    <li v-if="looked.without_count && looked.mails">
      <b>{{ count(looked.without_count) }}</b> have no address:
      <span class="soft">{{ some(looked.without, looked.without_count) }}</span>
    </li>
    <li v-if="looked.odd_count && looked.mails">
      <b>{{ count(looked.odd_count) }}</b> have one that cannot be:
      <span class="soft">{{ some(looked.odd, looked.odd_count) }}</span>
    </li>
    <li v-if="looked.no_account">
      <b>{{ count(looked.no_account) }}</b> have no account there yet: their link says so until they
      have
    </li>
    <li v-for="(many, name) in looked.lacking" :key="name">
      <b>{{ count(many) }}</b> have no {{ title(String(name)) }}: a gap stands there
    </li>
  </ul>
  <article
    v-for="one in looked.samples"
    :key="one.record"
    :aria-label="`${one.to ? 'Mail' : 'Letter'} to ${one.name}`"
  >
    <p class="soft small">
      {{ one.to ? `to ${one.to}` : 'on paper' }} · {{ one.name || one.key
      }}<template v-if="one.lacking.length">
        · without {{ one.lacking.map(title).join(', ') }}</template
      >
    </p>
    <p v-if="!one.to && one.address" class="text">{{ one.address }}</p>
    <p>
      <b>{{ one.subject }}</b>
    </p>
    <p class="text">{{ one.text }}</p>
  </article>
</template>

<style scoped>
.said {
  margin: 0 0 8px;
  padding-left: 18px;
}
article {
  border: 1px solid var(--line);
  padding: 8px 12px;
  margin-bottom: 8px;
}
article p {
  margin: 0 0 4px;
  overflow-wrap: anywhere;
}
.text {
  white-space: pre-wrap;
}
</style>
