<script setup lang="ts">
import { computed, watch } from 'vue'
import KeyCap from '@/components/controls/KeyCap.vue'
import Mark from '@/components/Mark.vue'
import type { Cause, Remedy } from '@/api/types'
import { useAnswer } from '@/composables/useAnswer'
import { useCatalog } from '@/composables/useCatalog'
import { useIntake } from '@/composables/useIntake'
import { ADMINISTER, useSession } from '@/composables/useSession'
import { effect } from '@/logic/effect'
import { count, counted } from '@/logic/words'

const props = defineProps<{ cause: Cause; followers?: Cause[]; on: boolean; locked: boolean }>()
const emit = defineEmits<{ choose: []; open: [id: string]; settle: [remedy: Remedy]; add: [] }>()

/**
 * The remedies that put things right; those that put rows aside are smaller, and only on the open
 * cause.
 */
const ASIDE = ['hold', 'leave_out']
const mending = computed(() => props.cause.remedies.filter((one) => !ASIDE.includes(one.kind)))
const shown = computed(() =>
  props.on
    ? mending.value
    : mending.value.filter((one) => one.kind === 'translate' || one.kind === 'suggest').slice(0, 1),
)
const digit = (remedy: Remedy) => props.cause.remedies.indexOf(remedy) + 1
const { intake, preview } = useIntake()
/** What the remedy under the pointer, or the first one of the open cause, would do to the tally. */
const KNOWN = [
  'translate',
  'suggest',
  'blank',
  'swap',
  'shift',
  'keep',
  'date_order',
  'decimal_mark',
  'new',
  'coverage',
  'hold_line',
  'waive',
  'hold',
  'leave_out',
]

let looked: Remedy | undefined
const {
  answer: would,
  again,
  forget,
} = useAnswer(async () => {
  const [before, remedy] = [intake.value?.tally, looked]
  if (!remedy || !before) return null
  const after = await preview({ cause: props.cause.id, kind: remedy.kind, value: remedy.value })
  return after && `${remedy.label}: ${effect(before, after)}`
}, 0)
function look(remedy: Remedy | undefined): void {
  if (!remedy || props.locked || !KNOWN.includes(remedy.kind)) return
  looked = remedy
  again()
}

watch(
  () => [props.on, props.cause.id, intake.value?.steps],
  () => {
    forget()
    if (props.on) look(shown.value[0])
  },
  { immediate: true },
)

/** A text that is on no code list can be put on it, by who may. */
const session = useSession()
const catalog = useCatalog()
const mayAdd = computed(() => {
  const { check, field, value, weight } = props.cause
  const one = catalog.field(intake.value?.roster ?? '', field ?? '')
  // Of several values in one cell it is only one that is on no list.
  const isCoded =
    check === 'code' &&
    weight === 'stop' &&
    !!value &&
    !!one?.code_list &&
    !(one.several && /[;,/|+&\n]/.test(value))
  return isCoded && (session.state.me?.level ?? 0) >= ADMINISTER
})
const aside = computed(() =>
  props.on ? props.cause.remedies.filter((one) => ASIDE.includes(one.kind)) : [],
)
</script>

<template>
  <article class="cause" :class="{ on }">
    <button class="plain head" :aria-pressed="on" @click="emit('choose')">
      <Mark :weight="cause.weight" /><span class="name">{{ cause.title }}</span
      ><span class="n">{{
        cause.whole ? (cause.near ? count(cause.near) : 'file') : count(cause.rows)
      }}</span>
    </button>
    <p v-if="cause.detail.replace(/\.$/, '') !== cause.title">{{ cause.detail }}</p>
    <div v-if="shown.length && cause.weight !== 'note'" class="do">
      <button
        v-for="(remedy, place) in shown"
        :key="remedy.kind + remedy.value"
        class="btn"
        :class="{ main: on && place === 0 && remedy.kind !== 'set' && remedy.kind !== 'blank' }"
        :disabled="locked"
        @click="emit('settle', remedy)"
        @mouseenter="look(remedy)"
        @focus="look(remedy)"
      >
        {{ remedy.label }}<KeyCap v-if="on && digit(remedy)" :of="digit(remedy)" />
      </button>
    </div>
    <p v-if="on && mayAdd" class="under">
      <button class="link left" :disabled="locked" @click="emit('add')">
        Put “{{ cause.value }}” on the list …
      </button>
    </p>
    <p v-if="cause.check === 'who' && cause.rows" class="under">
      <RouterLink class="link" :to="`/intakes/${intake?.id}/people`"
        >Tell {{ cause.rows === 1 ? 'it' : `all ${cause.rows}` }} apart under People</RouterLink
      >
    </p>
    <p v-for="one in followers ?? []" :key="one.id" class="under">
      settled with it:
      <button v-if="one.whole" class="link" @click="emit('open', one.id)">
        {{ one.title }}</button><template v-else>{{ one.title }}</template
      ><template v-if="one.rows"> ({{ counted(one.rows, 'row') }})</template>
    </p>
    <p v-if="on && cause.whole" class="under">
      {{
        cause.near
          ? `${counted(cause.near, 'row')} of the file ${cause.near === 1 ? 'is' : 'are'} concerned`
          : 'this is about the file as a whole'
      }}; nothing is applied before it is settled
    </p>
    <p v-if="on && cause.weight === 'stop' && cause.frees" class="under">
      {{ counted(cause.frees, 'row goes', 'rows go') }} in at once when this is settled{{
        cause.frees < cause.rows
          ? `; ${cause.rows - cause.frees} more ${cause.rows - cause.frees === 1 ? 'has' : 'have'} other problems`
          : ''
      }}
    </p>
    <p v-else-if="on && cause.weight === 'stop' && !cause.whole" class="under">
      every row here has other problems too
    </p>
    <div v-if="aside.length" class="aside">
      <button
        v-for="remedy in aside"
        :key="remedy.kind"
        class="link"
        :disabled="locked"
        @click="emit('settle', remedy)"
        @mouseenter="look(remedy)"
        @focus="look(remedy)"
      >
        {{ remedy.label }} <KeyCap :of="digit(remedy)" />
      </button>
    </div>
    <!-- Last, so that no button moves from under the pointer when it comes. -->
    <p v-if="on && would" class="under" role="status">{{ would }}</p>
  </article>
</template>

<style scoped>
.cause {
  background: var(--snow);
  border: 1px solid var(--line);
  padding: 8px 10px;
  margin: 0 8px 6px 0;
  position: relative;
}
.cause.on {
  border-color: var(--ink);
  border-right-color: var(--snow);
  margin-right: -1px;
  padding-right: 19px;
  z-index: 2;
}
.head {
  display: flex;
  gap: 7px;
  width: 100%;
  align-items: baseline;
  line-height: 19px;
}
.name {
  font-weight: 600;
  flex: 1;
}
.n {
  font-weight: 600;
}
p {
  margin: 1px 0 0 18px;
  color: var(--ink2);
  font-size: 13px;
  line-height: 17px;
  overflow-wrap: anywhere;
}
.do {
  margin: 6px 0 0 18px;
  display: flex;
  gap: 6px;
  flex-wrap: wrap;
}
.do kbd {
  margin-left: 6px;
}
.under {
  border-left: 2px solid var(--drift);
  margin-top: 6px;
  padding-left: 8px;
  font-size: 12.5px;
}
.aside {
  margin: 6px 0 0 18px;
  display: flex;
  gap: 14px;
  font-size: 12.5px;
}
.aside .link {
  font-weight: 400;
}
.left {
  text-align: left;
}
</style>
