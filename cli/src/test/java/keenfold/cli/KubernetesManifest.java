package keenfold.cli;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.ObjectMapper;
import com.google.gson.JsonElement;
import com.google.gson.JsonParser;
import io.kubernetes.client.openapi.models.V1Container;
import io.kubernetes.client.openapi.models.V1Job;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import org.yaml.snakeyaml.Yaml;

/** A manifest as the model classes of Kubernetes read it: unknown fields, and those of a wrong type, are refused. */
final class KubernetesManifest {
    private KubernetesManifest() {}

    static void requireSound(Path file) throws IOException {
        Object yaml = new Yaml().load(Files.readString(file));
        String json = new ObjectMapper().writeValueAsString(yaml);
        JsonElement element = JsonParser.parseString(json);
        V1Job.validateJsonElement(element);
        V1Job job = V1Job.fromJson(json);
        assertThat(job.getApiVersion()).isEqualTo("batch/v1");
        assertThat(job.getKind()).isEqualTo("Job");
        assertThat(job.getSpec().getCompletionMode()).isEqualTo("Indexed");
        assertThat(job.getSpec().getCompletions()).isEqualTo(job.getSpec().getParallelism());
        assertThat(job.getSpec().getTemplate().getSpec().getRestartPolicy()).isEqualTo("Never");
        V1Container shard =
                job.getSpec().getTemplate().getSpec().getContainers().get(0);
        assertThat(shard.getWorkingDir())
                .startsWith(shard.getVolumeMounts().get(0).getMountPath() + "/");
        assertThat(shard.getVolumeMounts().get(0).getName())
                .isEqualTo(job.getSpec()
                        .getTemplate()
                        .getSpec()
                        .getVolumes()
                        .get(0)
                        .getName());
        assertThat(shard.getResources().getRequests()).containsKeys("cpu", "memory");
    }
}
