<script setup lang="ts">
import { computed, onMounted, ref, shallowRef, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import GroupPanel from '@/components/groups/GroupPanel.vue'
import GroupSections from '@/components/groups/GroupSections.vue'
import GroupsHead from '@/components/groups/GroupsHead.vue'
import KindList from '@/components/groups/KindList.vue'
import MovesNoted from '@/components/groups/MovesNoted.vue'
import NoGroups from '@/components/groups/NoGroups.vue'
import RulesList from '@/components/groups/RulesList.vue'
import { getGroups } from '@/api/groups'
import type { Group, Groups, Member } from '@/api/types'
import { useKeys } from '@/composables/useKeys'
import { useKinds } from '@/composables/useKinds'
import { keyOf, useMoves } from '@/composables/useMoves'
import { PREPARE } from '@/composables/useSession'
import { usePageTitle } from '@/composables/usePageTitle'
import { counted } from '@/logic/words'

const route = useRoute()
const router = useRouter()
const { kinds, shortlists, loadKinds, loadShortlists } = useKinds()
const groups = shallowRef<Groups | null>(null)
const problem = ref('')
const loaded = ref(false)
const onlyTroubles = ref(false)
const roster = computed(() => String(route.params.roster ?? ''))
const kind = computed(() => String(route.params.kind ?? ''))
const day = computed(() => String(route.query.day ?? ''))
const part = computed(() => String(route.query.part ?? ''))
const chosen = computed(() => String(route.query.group ?? ''))
const { moves, gets, loses, noted, move, forget, review } = useMoves(groups, chosen, roster, kind)
const parts = computed(() => [...new Set(groups.value?.groups.map((one) => one.part) ?? [])])
const shown = computed(() =>
  (groups.value?.groups ?? []).filter(
    (one) =>
      (!part.value || one.part === part.value) && (!onlyTroubles.value || one.troubles.length),
  ),
)
const current = computed(
  () => groups.value?.groups.find((one) => keyOf(one) === chosen.value) ?? null,
)
const may = computed(() => !!groups.value && groups.value.level >= PREPARE && !day.value)
const go = (query: Record<string, string | undefined>) =>
  void router.replace({ query: { ...route.query, ...query } })
const tell = (error: unknown) =>
  (problem.value = error instanceof Error ? error.message : String(error))
let latest = 0 // of the askings for groups: an answer to an earlier one, come later, is none

async function load(): Promise<void> {
  problem.value = ''
  const mine = ++latest
  try {
    const found = kind.value ? await getGroups(roster.value, kind.value, day.value) : null
    if (mine === latest) groups.value = found
  } catch (error) {
    if (mine === latest) tell(error)
  }
}

function drop(event: DragEvent, group: Group): void {
  const text = event.dataTransfer?.getData('application/x-nevefield-people')
  if (!text || !may.value) return
  if (current.value && group.part !== current.value.part) {
    problem.value =
      `${group.label} is of another part, ${group.part}. Who changes that too is ` +
      `changed on the roster’s page.`
    return
  }
  move(JSON.parse(text) as Member[], group.key.at(-1) ?? '')
}

const lookAtPlan = () => review().then((intake) => router.push(`/intakes/${intake}/changes`), tell)

function step(by: number): void {
  const list = shown.value
  const now = list.findIndex((one) => keyOf(one) === chosen.value)
  const next = list[Math.max(0, Math.min(list.length - 1, now + by))]
  if (next) go({ group: keyOf(next) })
}

useKeys({
  ArrowRight: () => step(1),
  ArrowLeft: () => step(-1),
  '.': () => step(1),
  ',': () => step(-1),
  Escape: () => go({ group: undefined }),
})
watch([roster, kind, day], () => {
  forget()
  void load()
})
onMounted(async () => {
  try {
    await loadKinds()
    const first = kinds.value.find((one) => !roster.value || one.roster === roster.value)
    if (!kind.value && first) await router.replace(`/groups/${first.roster}/${first.kind}`)
    else await load()
    await loadShortlists()
  } catch (error) {
    tell(error)
  } finally {
    loaded.value = true
  }
})
usePageTitle(() => groups.value && `${groups.value.title}, groups of ${groups.value.roster_title}`)
</script>

<template>
  <KindList :kinds="kinds" :shortlists="shortlists" :roster="roster" :kind="kind" />
  <section class="page">
    <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
    <h1 v-if="!groups" class="unseen">Groups</h1>
    <template v-if="groups">
      <GroupsHead
        :groups="groups"
        :parts="parts"
        :part="part"
        :day="day"
        :may="may"
        :only-troubles="onlyTroubles"
        @part="go({ part: $event || undefined, group: undefined })"
        @day="go({ day: $event || undefined })"
        @troubles="onlyTroubles = !onlyTroubles"
      />
      <div class="body no-print">
        <p v-if="groups.without" class="flag">
          <button class="link" @click="go({ group: '-' })">
            {{ counted(groups.without, 'person is', 'people are') }} without a
            {{ groups.title.toLowerCase() }}
          </button>
        </p>
        <GroupSections
          :groups="groups"
          :shown="shown"
          :parts="parts"
          :chosen="chosen"
          :gets="gets"
          :loses="loses"
          @open="go({ group: $event })"
          @drop="drop"
        />
        <RulesList v-if="groups.field" :roster="groups.roster" :field="groups.field" />
        <div v-if="!shown.length" class="empty">
          <h2 v-if="groups.groups.length">Nothing is wrong with any of them</h2>
          <h2 v-else>On that day there is no {{ groups.title.toLowerCase() }}</h2>
          <p v-if="!groups.groups.length">
            Drop a file that says who is in which, or put somebody in by hand on the roster’s page.
          </p>
        </div>
      </div>
      <MovesNoted
        v-if="moves.size"
        :count="moves.size"
        :noted="noted"
        @review="lookAtPlan"
        @forget="forget"
      />
    </template>
    <NoGroups v-else-if="loaded && !problem" :roster="roster" :is-known="!!kinds.length" />
    <p v-else-if="!problem" class="soft" role="status">Opening the groups …</p>
  </section>
  <GroupPanel
    v-if="groups && (current || chosen === '-')"
    :groups="groups"
    :group="current"
    :day="day"
    :moves="moves"
    @move="move"
    @close="go({ group: undefined })"
  />
</template>

<style scoped>
.page {
  flex: 1;
  min-width: 0;
  display: flex;
  flex-direction: column;
  padding: 12px 0 0 15px;
  background: var(--snow);
}
.body {
  flex: 1;
  min-height: 0;
  overflow-y: auto;
  padding: 10px 16px 20px 3px;
}
.flag {
  margin: 0 16px 8px 0;
}
</style>
