<script setup lang="ts">
import { computed } from 'vue'
import type { Tried } from '@/api/types'
import { troublesByKind } from '@/logic/definition'
import { count, counted } from '@/logic/words'

/** What a definition would break in the records, and what can be done with it. */
const props = defineProps<{ tried: Tried | null; problem: string; next: number }>()
const emit = defineEmits<{ write: []; letGo: [] }>()

const SHOWN = 5
const kinds = computed(() => troublesByKind(props.tried?.troubles ?? []))
</script>

<template>
  <div class="verdict" role="status">
    <p v-if="problem" class="bad">{{ problem }}</p>
    <template v-else-if="tried">
      <p v-if="!tried.troubles.length">
        <b>None of the {{ count(tried.records) }} records would break this.</b>
      </p>
      <ul v-else>
        <li v-for="one in kinds.slice(0, SHOWN)" :key="one.said">
          <b class="bad">{{ counted(one.records, 'record') }}</b>
          {{ one.records === 1 ? 'breaks' : 'break' }} this: {{ one.said
          }}{{ one.more ? `, and ${count(one.more)} more like it` : '' }}
          <span class="soft mono"
            >{{ one.keys.join(', ') }}{{ one.records > one.keys.length ? ' …' : '' }}</span
          >
        </li>
        <li v-if="kinds.length > SHOWN" class="soft">and {{ count(kinds.length - SHOWN) }} more</li>
      </ul>
    </template>
    <p v-else class="soft">Trying it against the records …</p>
    <p v-if="tried?.why" class="why">
      <b>Needs the approval of somebody else:</b> {{ tried.why }}.
    </p>
    <button class="btn main" :disabled="!tried" @click="emit('write')">
      {{ tried?.why ? `Propose version ${next}` : `Put version ${next} in force` }}
    </button>
    <button class="btn" @click="emit('letGo')">Discard the changes</button>
  </div>
</template>

<style scoped>
.verdict {
  background: var(--ask-soft);
  border-left: 4px solid var(--waiting);
  padding: 8px 12px;
  margin-top: 10px;
  display: flex;
  gap: 10px;
  align-items: center;
  flex-wrap: wrap;
}
.verdict > :first-child {
  flex: 1 1 60%;
}
.why {
  flex-basis: 100%;
}
</style>
