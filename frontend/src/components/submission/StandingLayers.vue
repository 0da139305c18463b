<script setup lang="ts">
import { computed } from 'vue'
import LayerColumn from '@/components/LayerColumn.vue'
import type { Submission } from '@/api/types'
import { STANDING_WORDS, STANDINGS, standingsAddUp } from '@/logic/standing'
import { count, counted, day } from '@/logic/words'

const props = defineProps<{ submission: Submission; selected: string }>()
const emit = defineEmits<{ open: [state: string] }>()

const parts = computed(() =>
  STANDINGS.map((key) => ({
    key,
    count: props.submission.tally[key],
    word: STANDING_WORDS[key],
    look: `s-${key}`,
  })),
)
const below = computed(() => ({
  key: 'not_sent',
  count: props.submission.tally.not_sent,
  word: props.submission.on_way ? 'no answer yet' : 'not sent',
  look: 'l-left_out',
}))
const left = computed(() => props.submission.days_left ?? 0)
</script>

<template>
  <LayerColumn
    :total="submission.tally.records"
    of="records in it"
    :parts="parts"
    :below="below"
    :selected="selected"
    @open="emit('open', $event)"
  >
    <template #below>
      <span v-if="submission.on_way" class="way">{{ count(submission.on_way) }} on their way</span>
    </template>
    <template v-if="standingsAddUp(submission.tally)">adds up ✓</template
    ><b v-else class="bad">does not add up</b>
    <template v-if="submission.due"
      ><br />due {{ day(submission.due) }},<br /><b v-if="left < 0" class="bad"
        >{{ counted(-left, 'day') }} over</b
      ><template v-else>{{ counted(left, 'day') }} left</template></template
    >
  </LayerColumn>
</template>

<style scoped>
.way {
  margin-top: 3px;
  color: var(--ink2);
}
</style>
