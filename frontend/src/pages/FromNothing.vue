<script setup lang="ts">
import { computed, onMounted, ref, shallowRef } from 'vue'
import { useRouter } from 'vue-router'
import ChooseOne from '@/components/controls/ChooseOne.vue'
import { listPeople, openFromNothing } from '@/api/openings'
import type { StartingPeople } from '@/api/types'
import { useCatalog } from '@/composables/useCatalog'
import { usePageTitle } from '@/composables/usePageTitle'
import { useSession } from '@/composables/useSession'
import { counted } from '@/logic/words'

/** A roster from nothing: the usual fields of one kind of people, of which any can be left out. */
const router = useRouter()
const session = useSession()
const catalog = useCatalog()
const people = shallowRef<StartingPeople[]>([])
const kind = ref('members')
const title = ref('')
const left = ref<Set<string>>(new Set())
const problem = ref('')
const busy = ref(false)
const chosen = computed(() => people.value.find((one) => one.name === kind.value))
const options = computed(() => people.value.map((one) => ({ value: one.name, label: one.title })))
const taken = computed(
  () => chosen.value?.fields.filter((one) => !left.value.has(one.name)).length ?? 0,
)
function toggle(name: string, on: boolean): void {
  const now = new Set(left.value)
  if (on) now.delete(name)
  else now.add(name)
  left.value = now
}
async function open(): Promise<void> {
  busy.value = true
  try {
    const made = await openFromNothing(kind.value, title.value.trim(), [...left.value])
    await session.look()
    await catalog.load()
    await router.push(`/rosters/${made.roster}`)
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  } finally {
    busy.value = false
  }
}
onMounted(() =>
  listPeople().then(
    (found) => (people.value = found),
    (error: Error) => (problem.value = error.message),
  ),
)
usePageTitle(() => 'A roster from nothing')
</script>

<template>
  <section class="page">
    <h1>A roster from nothing</h1>
    <p class="soft">
      These fields and their checks are common for such people. All can be altered later, and fields
      of your own added.
    </p>
    <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
    <form v-if="chosen" @submit.prevent="open">
      <ChooseOne v-model="kind" :options="options" label="Kind of people" />
      <label class="title"
        >Call it
        <input v-model="title" class="box" maxlength="120" :placeholder="chosen.title" />
      </label>
      <fieldset>
        <legend>{{ chosen.title }}, {{ chosen.words }}</legend>
        <label v-for="(one, index) in chosen.fields" :key="one.name">
          <input
            type="checkbox"
            :checked="!left.has(one.name)"
            :disabled="!index"
            @change="toggle(one.name, ($event.target as HTMLInputElement).checked)"
          />
          {{ one.title }} <span class="soft">{{ index ? '' : 'people are known by it' }}</span>
        </label>
      </fieldset>
      <button class="btn main" :disabled="busy">
        Open the roster with {{ counted(taken, 'field') }}
      </button>
    </form>
  </section>
</template>

<style scoped>
.page {
  flex: 1;
  min-width: 0;
  overflow: auto;
  padding: 16px 22px;
  background: var(--snow);
}
form {
  display: grid;
  gap: 14px;
  justify-items: start;
  padding-top: 14px;
}
fieldset {
  border: 1px solid var(--line);
  padding: 8px 14px 12px;
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(min(220px, 100%), 1fr));
  gap: 4px 24px;
  width: min(560px, 100%);
  min-width: 0;
}
.title {
  display: flex;
  gap: 8px;
  align-items: center;
}
</style>
