<script setup lang="ts">
import { computed, ref } from 'vue'
import ReasonDialog from '@/components/ReasonDialog.vue'
import { coverRoster, uncoverRoster } from '@/api/rosters'
import type { Roster } from '@/api/types'
import { useSession } from '@/composables/useSession'
import { momentInFull } from '@/logic/words'

/** Sensitive fields that are covered, uncovered for a task by who may, with a reason. */
const props = defineProps<{ roster: Roster }>()
const emit = defineEmits<{ done: [] }>()
const session = useSession()
const asking = ref(false)
const problem = ref('')
const mayUncover = computed(() => session.state.me?.may_uncover ?? false)
const until = computed(() =>
  props.roster.uncovered_until ? momentInFull(props.roster.uncovered_until) : '',
)

async function act(what: () => Promise<unknown>): Promise<void> {
  problem.value = ''
  try {
    await what()
    asking.value = false
    emit('done')
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  }
}
</script>

<template>
  <span v-if="until" class="soft"
    >sensitive fields are open until {{ until }} ·
    <button class="link" @click="act(() => coverRoster(roster.name))">cover them</button></span
  >
  <span v-else-if="roster.is_covered && mayUncover" class="soft"
    >sensitive fields are covered ·
    <button class="link" @click="asking = true">uncover for a task …</button></span
  >
  <span v-if="problem" class="flag stop" role="alert">{{ problem }}</span>
  <ReasonDialog
    :open="asking"
    title="Uncover sensitive fields"
    said="For a quarter of an hour, in this roster. The reason, and whom you look at, stand in the trail."
    act="Uncover them"
    @done="(reason: string) => act(() => uncoverRoster(roster.name, reason))"
    @close="asking = false"
  />
</template>
