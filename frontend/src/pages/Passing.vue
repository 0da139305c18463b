<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import BeginDestination from '@/components/passing/BeginDestination.vue'
import WhoIsTold from '@/components/passing/WhoIsTold.vue'
import { providePassing } from '@/composables/usePassing'
import { usePageTitle } from '@/composables/usePageTitle'
import { ADMINISTER, useSession } from '@/composables/useSession'

const passing = providePassing()
const route = useRoute()
const router = useRouter()
const session = useSession()
const beginning = ref(false)
const name = computed(() => String(route.params.name ?? ''))
const may = computed(() => session.state.me?.rosters.some((one) => one.level >= ADMINISTER))
const go = (to: string) => router.push(`/passing/${to}`)
async function begun(to: string): Promise<void> {
  beginning.value = false
  await passing.refresh()
  await go(to)
}
watch(name, (now) => void passing.open(now), { immediate: true })
watch(
  () => passing.all.value,
  (all) => {
    const first = all?.find((one) => one.counts.refused) ?? all?.[0]
    if (!name.value && first) void router.replace(`/passing/${first.name}`)
  },
  { immediate: true },
)
usePageTitle(() => passing.one.value && `${passing.one.value.title} · Passing on`)
</script>

<template>
  <template v-if="passing.all.value?.length">
    <WhoIsTold
      :destinations="passing.all.value"
      :chosen="name"
      :may-begin="!!may"
      @open="go"
      @begin="beginning = true"
    />
    <RouterView :key="name" />
  </template>
  <section v-else class="none">
    <div v-if="passing.all.value" class="empty">
      <h1>Nobody is told yet</h1>
      <p>
        Doors, directories, learning systems and address books can hold what the rosters say: each
        is a destination, with what it gets, how and when.
      </p>
      <button v-if="may" class="btn fir" @click="beginning = true">Begin a destination …</button>
    </div>
    <p v-else-if="passing.problem.value" class="flag stop" role="alert">
      {{ passing.problem.value }}
    </p>
    <p v-else class="empty" role="status">Looking who is told …</p>
  </section>
  <BeginDestination
    v-if="beginning"
    :taken="(passing.all.value ?? []).map((one) => one.name)"
    @close="beginning = false"
    @begun="begun"
  />
</template>

<style scoped>
.none {
  flex: 1;
  background: var(--snow);
}
h1 {
  font-size: 18px;
  margin: 0 0 8px;
}
</style>
