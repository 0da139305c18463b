<script setup lang="ts">
import { computed, ref, shallowRef, watch } from 'vue'
import { refDebounced } from '@vueuse/core'
import { InputNumber } from 'ant-design-vue'
import { lookAtTerm } from '@/api/keeping'
import type { Goes, Lapse } from '@/api/types'
import { ask } from '@/composables/useAsk'
import { goesWords, KEPT } from '@/logic/lapsing'
import { counted, momentInFull } from '@/logic/words'

/** For how long one thing is kept: what another number would do is said before it is kept. */
const props = defineProps<{ lapse: Lapse }>()
const emit = defineEmits<{ keep: [days: number | null] }>()

const words = computed(() => KEPT[props.lapse.kind])
const days = ref<number | null>(props.lapse.days)
const would = shallowRef<Goes | null>(null)
const problem = ref('')
const isChanged = computed(() => (days.value ?? null) !== props.lapse.days)
const asked = refDebounced(days, 300)

watch(
  () => props.lapse,
  (lapse) => {
    days.value = lapse.days
    would.value = null
    problem.value = ''
  },
)
watch(asked, async (wanted) => {
  would.value = null
  problem.value = ''
  if (!wanted || wanted === props.lapse.days) return
  try {
    const goes = await lookAtTerm(props.lapse.kind, wanted)
    if (days.value === wanted) would.value = goes
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  }
})

async function keep(): Promise<void> {
  const goes = would.value?.tonight ?? 0
  const isSure =
    !days.value ||
    !goes ||
    (await ask({
      title: `Delete ${goesWords(props.lapse.kind, would.value ?? props.lapse)}?`,
      said: 'They go in the coming night, and cannot be had back but from a copy. Until then another number stops it.',
      act: 'Yes, keep it so',
      not: 'Cancel',
    }))
  if (isSure) emit('keep', days.value ?? null)
}
</script>

<template>
  <tr>
    <td class="what">
      <b>{{ words?.title }}</b><br /><span class="soft">{{ words?.said }}</span>
    </td>
    <td class="days">
      <InputNumber
        :value="days ?? undefined"
        :precision="0"
        :min="0"
        :aria-label="`Days for which to keep: ${words?.title}`"
        placeholder="for ever"
        @update:value="(given) => (days = given ? Number(given) : null)"
        @press-enter="isChanged && !problem && keep()"
      />
      <span>{{ days ? 'days' : '' }}</span>
    </td>
    <td>
      <template v-if="problem">
        <span role="alert">{{ problem }}</span><br />
        <button class="plain" @click="days = lapse.days">Cancel</button>
      </template>
      <template v-else-if="isChanged">
        <span v-if="would" role="status">would be: {{ goesWords(lapse.kind, would) }}</span>
        <span v-else-if="!days" role="status">nothing: it is kept for ever</span>
        <br />
        <button class="btn" :disabled="!!days && !would" @click="keep">Keep it so</button>
        <button class="plain" @click="days = lapse.days">Cancel</button>
      </template>
      <span v-else-if="lapse.days">{{ goesWords(lapse.kind, lapse) }}</span>
      <span v-else class="soft"
        >nothing; at least {{ counted(lapse.least, 'day') }} may be set</span
      >
    </td>
    <td class="soft">
      <template v-if="lapse.at"
        >{{ lapse.by || 'somebody' }}<br />{{ momentInFull(lapse.at) }}</template
      >
    </td>
  </tr>
</template>

<style scoped>
tr > td {
  vertical-align: top;
  padding-top: 8px;
  padding-bottom: 8px;
}
tr > td.what {
  width: 400px;
  max-width: 400px;
  white-space: normal;
}
.days {
  white-space: nowrap;
}
.btn {
  margin: 6px 8px 0 0;
}
</style>
