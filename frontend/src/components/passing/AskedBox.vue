<script setup lang="ts">
import { computed } from 'vue'
import type { Destination } from '@/api/types'
import type { Way } from '@/logic/passing'
import { counted, moment } from '@/logic/words'

/** Where they ask, whether they do, and what they wrote that somebody has to look at. */
const props = defineProps<{ destination: Destination }>()
const emit = defineEmits<{ token: [] }>()
const now = new Date()
const address = `${location.origin}/scim/v2`
const proposes = computed(
  () => (props.destination.document.way as unknown as Way).writes === 'proposed',
)
</script>

<template>
  <div class="asked" role="group" aria-label="Where they ask">
    <p v-if="!destination.has_address">
      Nobody can ask yet: {{ destination.title }} has no token.
      <button v-if="destination.may_change" class="link" @click="emit('token')">Make one …</button>
    </p>
    <p v-else>
      They ask at <span class="mono">{{ address }}</span> ·
      {{
        destination.asked_at
          ? `last asked ${moment(destination.asked_at, now)}`
          : 'they have not asked yet'
      }}
      · {{ proposes ? 'what they write comes as an intake' : 'they read alone' }}
    </p>
    <p v-if="destination.proposed" role="status">
      They are writing: {{ counted(destination.proposed, 'proposal') }} become an intake as soon as
      they pause.
    </p>
    <p v-for="one in destination.proposed_in" :key="one.intake">
      To be looked at:
      <RouterLink :to="`/intakes/${one.intake}/problems`">{{ one.title }}</RouterLink>
    </p>
  </div>
</template>

<style scoped>
.asked {
  margin-top: 8px;
  padding: 6px 10px;
  border: 1px solid var(--line);
  font-size: 13px;
}
.asked p {
  margin: 2px 0;
}
</style>
