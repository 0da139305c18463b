<script setup lang="ts">
import { computed, onBeforeUnmount, onMounted, ref, watch } from 'vue'
import { ConfigProvider } from 'ant-design-vue'
import { useRoute, useRouter } from 'vue-router'
import DropAnywhere from './components/DropAnywhere.vue'
import KeySheet from './components/KeySheet.vue'
import TopLine from './components/TopLine.vue'
import { useCatalog } from './composables/useCatalog'
import { useSession } from './composables/useSession'
import { themeTokens } from './theme/tokens'

const session = useSession()
const catalog = useCatalog()
const route = useRoute()
const router = useRouter()
const system = window.matchMedia('(prefers-color-scheme: dark)')
const dark = ref(system.matches)
/** One page for each intake or roster: another one is another page. */
const place = computed(() => `${String(route.matched[0]?.path)}:${String(route.params.id ?? route.params.name ?? '')}`)
const look = computed(() => themeTokens(dark.value))
const follow = (event: MediaQueryListEvent) => (dark.value = event.matches)

watch(
  () => session.state.me,
  (me) => {
    if (me) return
    catalog.forget()
    if (session.state.asked && !route.meta.open) void router.push({ path: '/sign-in', query: { to: route.fullPath } })
  },
)
onMounted(() => system.addEventListener('change', follow))
onBeforeUnmount(() => system.removeEventListener('change', follow))
</script>

<template>
  <ConfigProvider :theme="look" :auto-insert-space-in-button="false">
    <template v-if="session.state.me">
      <TopLine />
      <DropAnywhere />
      <KeySheet />
    </template>
    <main :class="{ alone: !session.state.me }"><RouterView v-slot="{ Component }"><component :is="Component" :key="place" /></RouterView></main>
  </ConfigProvider>
</template>

<style scoped>
main { height: calc(100vh - 44px); display: flex; min-height: 0; }
main.alone { height: 100vh; }
@media print { main { height: auto; display: block; } }
</style>
