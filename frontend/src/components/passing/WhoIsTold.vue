<script setup lang="ts">
import PartsStrip from '@/components/PartsStrip.vue'
import type { DestinationBrief } from '@/api/types'
import { drawn, sayCounts } from '@/logic/passing'
import { moment } from '@/logic/words'

/** The destinations, each with how and when it is told, and where its records stand. */
defineProps<{ destinations: DestinationBrief[]; chosen: string; mayBegin: boolean }>()
const emit = defineEmits<{ open: [name: string]; begin: [] }>()
const now = new Date()

const about = (one: DestinationBrief) =>
  [one.way, one.rosters.join(' and '), one.is_on ? one.told : 'by hand, switched off'].join(' · ')
</script>

<template>
  <nav class="told" aria-label="Who is told">
    <p class="head">
      <b>Who is told</b><span class="grow" /><button
        v-if="mayBegin"
        class="link"
        @click="emit('begin')"
      >
        Another …
      </button>
    </p>
    <button
      v-for="one in destinations"
      :key="one.name"
      class="one"
      :class="{ on: one.name === chosen }"
      :aria-current="one.name === chosen ? 'page' : undefined"
      @click="emit('open', one.name)"
    >
      <b>{{ one.title }}</b>
      <span class="soft small">{{ about(one) }}</span>
      <PartsStrip :parts="drawn(one.counts)" :label="sayCounts(one.counts)" />
      <span class="soft small">{{ sayCounts(one.counts) }}</span>
      <span v-if="one.problem" class="bad small">{{ one.problem }}</span>
      <span v-else-if="one.next_at" class="soft small">next {{ moment(one.next_at, now) }}</span>
      <span v-else-if="one.sent_at" class="soft small">told {{ moment(one.sent_at, now) }}</span>
    </button>
  </nav>
</template>

<style scoped src="../side.css"></style>
