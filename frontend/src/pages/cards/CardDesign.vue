<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import CardHead from '@/components/cards/CardHead.vue'
import CardLayers from '@/components/cards/CardLayers.vue'
import MakeDialog from '@/components/cards/MakeDialog.vue'
import NotHere from '@/components/NotHere.vue'
import { provideCards } from '@/composables/useCards'
import { usePageTitle } from '@/composables/usePageTitle'
import { STAGES } from '@/logic/stages'

const route = useRoute()
const router = useRouter()
const open = provideCards(String(route.params.name))
const making = ref(false)
const page = computed(() => String(route.path.split('/').at(-1)))
const selected = computed(() => (page.value === 'needed' ? String(route.query.need ?? 'all') : ''))

const openNeed = (need: string) =>
  router.push({
    path: `/cards/${open.name}/needed`,
    query: need === 'all' ? {} : { need },
  })
async function made(run: number): Promise<void> {
  making.value = false
  await router.push({ path: `/cards/${open.name}/runs`, query: { run } })
}
usePageTitle(() => open.design.value && `${STAGES[page.value] ?? ''} · ${open.design.value.title}`)
</script>

<template>
  <template v-if="open.design.value">
    <CardLayers :design="open.design.value" :selected="selected" @open="openNeed" />
    <section class="work">
      <CardHead :design="open.design.value" :page="page" @make="making = true" />
      <p v-if="open.problem.value" class="flag stop" role="alert">{{ open.problem.value }}</p>
      <RouterView :design="open.design.value" />
    </section>
    <MakeDialog
      v-if="making"
      :design="open.design.value"
      :records="null"
      @close="making = false"
      @made="made"
    />
  </template>
  <NotHere
    v-else-if="open.problem.value"
    title="This card design cannot be opened"
    :problem="open.problem.value"
    to="/cards"
    back="All card designs"
  />
  <p v-else class="empty opening" role="status">Opening the cards …</p>
</template>

<style scoped>
.work {
  flex: 1;
  display: flex;
  flex-direction: column;
  min-width: 0;
  min-height: 0;
}
</style>
